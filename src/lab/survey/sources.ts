import { launchFor, type Ability, type CompiledLevel, type Motion } from '../../core/index.js';
import type { Fastest, Takeoff } from './rise.js';

/** What nothing in a level can do better than: how high, how fast across. Each row of `SOURCES` allows more of it. */
export interface Limits {
  fastest: Fastest;
  ground: Takeoff;
  /** From a wall, and how far it drifts away from it before the jump: units/s². */
  wall: Takeoff | undefined;
  drift: number;
  /** From one wall to the same again, for ever. */
  oneWall: boolean;
  /** Jumps in the air come back at a wall. */
  airsByWall: boolean;
  /** Speed across, units/s. */
  speed: number;
  /** How far aside it is moved below an underside, units, each time. */
  shift: number;
  /** How far up it is lifted where it comes to a side, and where it walks against one, units. */
  lip: number;
  step: number;
  /** How far from the corner hands may be, and how far the feet are below; 0 without. */
  reach: number;
  hands: number;
  /** Nothing holds up to no end: so high as you like, so far as you like. */
  endlessUp: boolean;
  endlessAcross: boolean;
}

/** So many jumps in the air are told apart. */
export const MOST_AIRS = 6;

/** What there is: the tuning, the level, what of it may be on the way, and the abilities of the game. */
export interface Scene {
  level: CompiledLevel;
  motion: Motion;
  abilities: readonly Ability[];
  /** Whether zones that change motion are on the way. */
  zones: boolean;
}

/** A source of height or speed, and what it allows. */
export interface Source {
  name: string;
  /** What it allows more of than there is without it. */
  allow(limits: Limits, scene: Scene): void;
}

const bySurface = ({ level }: Scene, of: 'jump' | 'pace' | 'bounce' | 'flow'): number =>
  level.surfaces.reduce(
    (most, surface) => Math.max(most, Math.abs(surface[of])),
    of === 'flow' || of === 'bounce' ? 0 : 1,
  );
const some = ({ level: { terrain } }: Scene, is: (nx: number, ny: number, e: number) => boolean): boolean =>
  terrain.nx.some((nx, e) => is(nx, terrain.ny[e]!, e));
/** Ground that is not level, and how steep it is at most: up for each across. */
const steepestGround = ({ level: { terrain }, motion }: Scene): number =>
  terrain.nx.reduce(
    (most, nx, e) =>
      terrain.ny[e]! > 0 && Math.abs(nx) <= motion.steepest * terrain.ny[e]!
        ? Math.max(most, Math.abs(nx) / terrain.ny[e]!)
        : most,
    0,
  );
/** Whether something is too steep to stand on, and no wall either. */
const hasSteep = (scene: Scene): boolean =>
  some(scene, (nx, ny) => ny > 1e-9 && Math.abs(nx) > scene.motion.steepest * ny);

/** Where height and speed may come from. They are taken one after the other. */
export const SOURCES: readonly Source[] = [
  {
    name: 'jump',
    allow({ ground }, { motion }) {
      if (!motion.jumpOff && !motion.charges) ground.launch = Math.max(ground.launch, motion.launch);
    },
  },
  {
    name: 'charge',
    allow({ ground }, { motion }) {
      if (motion.charges) ground.launch = Math.max(ground.launch, launchFor(motion, motion.full.charge!.highest));
    },
  },
  {
    name: 'coyote time',
    allow({ ground }, { motion }) {
      if (ground.launch > 0) ground.late = motion.coyote;
    },
  },
  {
    name: 'air jumps',
    allow(limits, { motion }) {
      // More than are told apart are as good as endless ones.
      limits.ground.airs = [...motion.airLaunch].slice(0, MOST_AIRS);
      if ((motion.airEndless && motion.airLaunch.length > 0) || motion.airLaunch.length > MOST_AIRS)
        limits.endlessUp = limits.endlessAcross = true;
    },
  },
  {
    name: 'rights given by zones',
    allow(limits, { motion, level }) {
      if (motion.airByZone && level.zones.length > 0 && motion.airLaunch.length > 0)
        limits.endlessUp = limits.endlessAcross = true;
    },
  },
  {
    name: 'glide',
    allow({ fastest }, { motion: { full } }) {
      if (full.glide)
        fastest.glide = { speed: full.glide.fallSpeed, budget: full.glide.budget, settle: full.glide.settle };
    },
  },
  {
    name: 'walls',
    allow(limits, { motion }) {
      const { full } = motion;
      if (!full.wall) return;
      const { lipSpeed } = limits.ground;
      limits.wall = {
        rise: 0,
        held: true,
        launch: launchFor(motion, full.wall.jump.height),
        late: motion.wallCoyote,
        airs: [],
        lipSpeed,
      };
      limits.drift = motion.airLocked || motion.air.upIn <= 0 ? Infinity : motion.air.speed / motion.air.upIn;
      limits.speed = Math.max(limits.speed, full.wall.jump.out);
      limits.oneWall = motion.wallJumps > 1;
      limits.airsByWall = motion.airByWall;
    },
  },
  {
    name: 'lip',
    allow(limits, { motion }) {
      limits.lip = motion.lip;
    },
  },
  {
    name: 'ledges',
    allow(limits, { motion: { full } }) {
      if (full.ledge) [limits.reach, limits.hands] = [full.ledge.reach, full.ledge.hands];
    },
  },
  {
    name: 'step',
    allow(limits, { motion }) {
      limits.step = Math.max(motion.step, motion.width / 512);
    },
  },
  {
    name: 'corner correction',
    allow(limits, { motion }) {
      limits.shift = motion.corner;
    },
  },
  {
    name: 'speed in the air',
    allow(limits, { motion }) {
      if (!motion.airLocked) limits.speed = Math.max(limits.speed, motion.air.speed);
    },
  },
  {
    name: 'speed of crouching',
    allow(limits, { motion: { full } }) {
      if (full.crouch) limits.speed = Math.max(limits.speed, full.crouch.speed);
    },
  },
  {
    name: 'pace of surfaces',
    allow(limits, scene) {
      limits.speed *= bySurface(scene, 'pace');
    },
  },
  {
    name: 'slopes',
    allow(limits, scene) {
      if (steepestGround(scene) > 0) limits.speed *= Math.max(1, scene.motion.uphill, scene.motion.downhill);
    },
  },
  {
    name: 'belts',
    allow(limits, scene) {
      limits.speed += bySurface(scene, 'flow');
    },
  },
  {
    name: 'run-up',
    allow({ ground, speed }, { motion }) {
      if (motion.runUp > 0 && ground.launch > 0)
        ground.launch = launchFor(motion, jumpOf(motion, ground.launch) + (motion.runUp * speed) / motion.ground.speed);
    },
  },
  {
    name: 'jump of surfaces',
    allow({ ground }, scene) {
      const share = bySurface(scene, 'jump');
      if (share > 1 && ground.launch > 0)
        ground.launch = launchFor(scene.motion, jumpOf(scene.motion, ground.launch) * share);
    },
  },
  {
    name: 'crests',
    allow({ ground, speed }, scene) {
      ground.rise = Math.max(ground.rise, speed * steepestGround(scene));
    },
  },
  {
    name: 'launch along the normal',
    allow(limits, scene) {
      if (scene.motion.launchNormal && steepestGround(scene) > 0) limits.speed += limits.ground.launch;
    },
  },
  {
    name: 'slides',
    allow(limits, scene) {
      if (hasSteep(scene)) limits.endlessAcross = true;
    },
  },
  {
    name: 'speed that is kept',
    allow(limits, { motion }) {
      if (motion.ground.keep && limits.speed > motion.ground.speed) limits.endlessAcross = true;
    },
  },
  {
    name: 'bounce',
    allow({ ground, fastest }, scene) {
      const share = bySurface(scene, 'bounce');
      if (share === 0) return;
      ground.rise = Math.max(ground.rise, share * Math.max(fastest.cap, scene.motion.full.dive?.fallSpeed ?? 0));
      ground.held = true;
    },
  },
  {
    name: 'movers',
    allow(limits, { level, motion }) {
      let [up, across] = [0, 0];
      for (const { route } of level.movers) {
        for (const v of route?.vx ?? []) across = Math.max(across, Math.abs(v));
        for (const v of route?.vy ?? []) up = Math.max(up, Math.abs(v));
        // A stretch may end faster than it begins.
        route?.ax.forEach(
          (a, i) => (across = Math.max(across, Math.abs(route.vx[i]! + a * (route.start[i + 1]! - route.start[i]!)))),
        );
        route?.ay.forEach(
          (a, i) => (up = Math.max(up, Math.abs(route.vy[i]! + a * (route.start[i + 1]! - route.start[i]!)))),
        );
      }
      const { lend } = motion.full.mover;
      // What is pushed goes as fast as what pushes it; what is carried takes its speed along.
      limits.speed = lend === 'none' ? Math.max(limits.speed, across) : limits.speed + across;
      if (lend !== 'both') return;
      limits.ground.rise += up;
      for (const takeoff of [limits.ground, limits.wall]) if (takeoff && takeoff.launch > 0) takeoff.launch += up;
    },
  },
  {
    name: 'gravity of zones',
    allow({ fastest }, { level, zones }) {
      if (!zones) return;
      const least = level.zones.reduce((share, { gravity }) => Math.min(share, gravity), 1);
      fastest.above *= least;
      fastest.up *= least;
      fastest.down *= least;
      fastest.fall *= least;
      fastest.rising *= least;
      fastest.falling *= least;
    },
  },
  {
    name: 'pace of zones',
    allow(limits, { level, zones }) {
      if (zones) limits.speed *= level.zones.reduce((most, { pace }) => Math.max(most, pace), 1);
    },
  },
  {
    name: 'currents',
    allow(limits, { level, zones }) {
      if (!zones) return;
      limits.speed += level.zones.reduce((most, { currentX }) => Math.max(most, Math.abs(currentX)), 0);
      if (level.zones.some(({ currentY }) => currentY > 0)) limits.endlessUp = limits.endlessAcross = true;
    },
  },
  {
    name: 'borders that come out elsewhere',
    allow(limits, { level: { bounds } }) {
      if (bounds.left === 'wrap' || bounds.right === 'wrap') limits.endlessAcross = true;
      if (bounds.top === 'wrap' || bounds.bottom === 'wrap') limits.endlessUp = true;
    },
  },
  {
    name: 'abilities of the game',
    allow(limits, { abilities }) {
      if (abilities.length > 0) limits.endlessUp = limits.endlessAcross = true;
    },
  },
];

/** The height of a jump with a launch speed, units. */
function jumpOf({ band, apex, rising }: Motion, speed: number): number {
  const inBand = Math.min(speed, band);
  return (inBand * inBand) / (2 * apex) + Math.max(0, speed * speed - band * band) / (2 * rising);
}

/** The same at best. */
export function heightOf({ fastest: { band, up, above } }: Limits, speed: number): number {
  const inBand = Math.min(speed, band);
  return (inBand * inBand) / (2 * up) + Math.max(0, speed * speed - band * band) / (2 * above);
}

/** What all sources together allow. */
export function limitsOf(scene: Scene): Limits {
  const { motion } = scene;
  const { rising, apex, falling, rampTo, rampOver, band, cap, releasedAbove, releasedBand, lipSpeed } = motion;
  const limits: Limits = {
    fastest: {
      above: Math.min(rising, releasedAbove),
      up: Math.min(apex, releasedBand),
      down: Math.min(apex, falling),
      fall: rampOver > 0 ? Math.min(falling, rampTo) : falling,
      rising,
      falling: rampOver > 0 ? Math.min(falling, rampTo) : falling,
      band,
      cap,
      glide: undefined,
    },
    ground: { rise: 0, held: false, launch: 0, late: 0, airs: [], lipSpeed },
    wall: undefined,
    drift: 0,
    oneWall: false,
    airsByWall: false,
    speed: motion.ground.speed,
    shift: 0,
    lip: 0,
    step: 0,
    reach: 0,
    hands: 0,
    endlessUp: false,
    endlessAcross: false,
  };
  for (const source of SOURCES) source.allow(limits, scene);
  return limits;
}
