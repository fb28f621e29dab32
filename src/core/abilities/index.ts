import { charge } from './charge.js';
import { crouch } from './crouch.js';
import { dive } from './dive.js';
import { drop } from './drop.js';
import { glide } from './glide.js';
import { jump } from './jump.js';
import { ledge } from './ledge.js';
import { wall } from './wall.js';

/**
 * The built-in abilities, in their order: what drops through the ground takes its press before whatever jumps.
 * @example
 * ```ts
 * mill.add(brindle, { abilities: Object.values(abilities).slice(0, 0) });
 * ```
 */
export const abilities = { drop, charge, ledge, jump, wall, glide, crouch, dive } as const;
