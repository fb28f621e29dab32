import { ABILITY_GROUPS, GROUP_WORDS, KEYS, MEANINGS, showValue, type Key, type NumberKey, type Tuning } from 'apperin';
import { vary } from 'apperin/lab';
import { table } from './page.js';

const UNITS: Readonly<Record<string, string>> = { length: 'units', speed: 'units/s', acceleration: 'units/s²', time: 's', multiplier: '×', share: 'share', angle: 'degrees', count: 'count' }; // prettier-ignore

/** What the keys of a group are about. */
const GROUPS: Readonly<Record<string, string>> = {
  tile: 'The world.',
  body: 'The hitbox.',
  run: 'Running, on the ground and in the air.',
  jump: 'The jump, said by [goals](../goals.md): any pair of height, riseTime, baseGravity, launchSpeed, reach and airTime that goes together.',
  gravity:
    'Gravity while rising, near the apex, coming down: multipliers of the base gravity that follows from the goals.',
  grace: 'What is forgiven.',
  airJumps: 'Jumps in the air.',
  charge: 'A jump that is wound up while the key is held.',
  wall: 'Sliding down walls, and jumping off them.',
  glide: 'Gliding, with the glide action.',
  dive: 'Falling faster, with down held in the air.',
  ledge: 'Hanging from ledges, climbing up.',
  drop: 'Dropping through one-way ground.',
  crouch: 'Crouching, with down held on the ground.',
  slope: 'Ground that is not level.',
  mover: 'Leaving what moves.',
  pose: 'What is shown.',
};

/** Each key of a tuning: unit, default, range, meaning, and which measures of the sheet follow it. */
export function keysPage(): string {
  const groups = [...new Set(KEYS.map(({ key }) => key.split('.')[0]!))];
  const parts = groups.map((group) => {
    const keys = KEYS.filter(({ key }) => key.split('.')[0] === group);
    const off = ABILITY_GROUPS.includes(group as never) ? ` An ability: off when it is left out or \`off\`, on with these defaults as \`${group}: {}\`.` : '';
    const words = GROUP_WORDS[group as keyof typeof GROUP_WORDS];
    const said = words ? ` The group may be ${[words].flat().map((word) => `\`${showValue(word).replaceAll('"', '')}\``).join(' or ')}.` : '';
    return `## ${group}\n\n${GROUPS[group]}${off}${off === '' ? said : ''}\n\n${table(['key', 'unit', 'default', 'range', 'meaning', 'measures that follow it'], keys.map((key) => [`\`${key.key}\``, ...shape(key), MEANINGS[key.key]!, measures(key)]))}`;
  });
  return `# Keys of a tuning\n\nLengths in your world's own units, times in seconds, all positive. Defaults of lengths and speeds are for \`tile: 1\`, and are scaled by it. How a file is written: [tuning files](../tunings.md). The measures are those that [\`apperin sheet\`](commands.md#apperin-sheet) prints; one that is not named does not change when the key is moved up and down by a quarter, all else at its default.\n\n${parts.join('\n\n')}\n`;
} // prettier-ignore

/** Unit, default and range. */
function shape(key: Key): [string, string, string] {
  if ('choices' in key) return ['word', key.choices[0]!, key.choices.join(', ')];
  if ('switch' in key) return ['yes/no', String(key.switch), 'true, false'];
  if ('of' in key) {
    const { of, count } = key;
    const [unit, , range] = shape(of);
    return [`list of ${unit === 'word' ? 'words' : unit}`, key.default.join(', '), `1 to ${count}, each ${range}`];
  }
  return [UNITS[key.unit]!, key.default === undefined ? '' : String(key.default), rangeOf(key)];
}

function rangeOf({ least, most, above, word }: NumberKey): string {
  const shown = (value: number): string => (value === 67108864 ? '2²⁶' : String(value));
  return `${above ? 'above ' : ''}${shown(least)} … ${shown(most)}${word === undefined ? '' : `, or ${word}`}`;
}

/** The other goal of a pair. */
const BESIDE: Readonly<Record<string, Tuning>> = {
  'jump.height': { jump: { height: 3, riseTime: 0.4 } },
  'jump.riseTime': { jump: { height: 3, riseTime: 0.4 } },
  'jump.baseGravity': { jump: { height: 3, baseGravity: 40 } },
  'jump.launchSpeed': { jump: { height: 3, launchSpeed: 17 } },
  'jump.reach': { jump: { height: 3, reach: 5.5 } },
  'jump.airTime': { jump: { height: 3, airTime: 0.75 } },
  'jump.lowestHop': { jump: { lowestHop: 1.25 } },
  'jump.runUp': { jump: { runUp: 0.5 } },
  'run.air.speed': { run: { air: { speed: 7.5 } } },
  'gravity.released': { gravity: { released: 2 } },
  'gravity.cutTo': { gravity: { cutTo: 0.4 } },
  'gravity.fallRamp.to': { gravity: { fallRamp: { to: 3, over: 0.5 } } },
  'gravity.fallRamp.over': { gravity: { fallRamp: { to: 3, over: 0.5 } } },
};

/** Measures that change with a number, by moving it. */
function measures(key: Key): string {
  const one = 'of' in key ? key.of : key;
  if (!('unit' in one) || key.key === 'tile') return '';
  const group = key.key.split('.')[0]!;
  const base: Tuning = BESIDE[key.key] ?? (ABILITY_GROUPS.includes(group as never) ? { [group]: {} } : {});
  const name = 'of' in key ? `${key.key}.1` : key.key;
  const at = name.split('.').reduce<unknown>((of, part) => (of as Record<string, unknown> | undefined)?.[Array.isArray(of) ? Number(part) - 1 : part], base);
  const start = typeof at === 'number' ? at : 'of' in key ? Number(key.default[0]) : (one.default ?? 1);
  const values = [start * 0.75, start, start * 1.25].filter((value) => value >= one.least && value <= one.most);
  const { changing } = vary(base, [{ key: name, values: [...new Set(values.length > 1 ? values : [start, start + 0.2])] }]);
  return changing.map((measure) => `\`${measure.id}\``).join(', ');
} // prettier-ignore
