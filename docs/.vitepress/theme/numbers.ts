import { KEYS, MEANINGS, fillTuning, valueOfKey, withKey, type Tuning } from 'apperin';
import { h, ref, type Ref, type VNode } from 'vue';

/** A number that the reader drags. */
export interface Dragged {
  key: string;
  from: number;
  to: number;
  value: Ref<number>;
  /** What it was at first. */
  start: number;
}

/** What each live picture is given: numbers as `jump.height=1..5`, or `jump.lowestHop=0.6..3@1.25` where they begin elsewhere than at the default, with blanks between; and what else the tuning says, as JSON. */
export const PROPS = { numbers: { type: String, required: true }, tuning: { type: String, default: '{}' } } as const;

const UNITS: Readonly<Record<string, string>> = { length: 'tiles', speed: 'tiles/s', acceleration: 'tiles/s²', time: 's', multiplier: '×', share: '×', angle: '°', count: '' }; // prettier-ignore

const HUNDREDTHS = 100;

/** The numbers of a live picture, and the tuning that they make. */
export class Numbers {
  readonly all: readonly Dragged[];
  private readonly base: Tuning;

  /** @throws RangeError where a number is written otherwise than `key=from..to` */
  constructor({ numbers, tuning }: { numbers: string; tuning: string }) {
    this.base = JSON.parse(tuning) as Tuning;
    const filled = fillTuning(this.base);
    this.all = numbers.split(' ').map((text) => {
      const [, key, from, to, at] = /^([\w.]+)=([\d.]+?)\.\.([\d.]+)(?:@([\d.]+))?$/.exec(text) ?? [];
      if (key === undefined) throw new RangeError(`${text}: it must be key=from..to, or key=from..to@start`);
      const start = Number(at ?? valueOfKey(filled, key) ?? from);
      return { key, from: Number(from), to: Number(to), start, value: ref(start) };
    });
  }

  /** The tuning as it is dragged. */
  get now(): Tuning {
    return this.at((number) => number.value.value);
  }

  /** And as it was at first. */
  get first(): Tuning {
    return this.at(({ start }) => start);
  }

  /** The tunings at the ends of each number, the others as they were: how much room a picture needs. */
  get ends(): Tuning[] {
    return this.all.flatMap((one) => [one.from, one.to].map((end) => this.at((other) => (other === one ? end : other.start))));
  }

  private at(value: (number: Dragged) => number): Tuning {
    return this.all.reduce((tuning, number) => withKey(tuning, number.key, value(number)), this.base);
  }

  /** A slider for each. */
  sliders(): VNode[] {
    return this.all.map(({ key, from, to, value, start }) => {
      const entry = KEYS.find((one) => one.key === key);
      const unit = entry && 'unit' in entry ? UNITS[entry.unit]! : '';
      return h('label', { class: 'live-number' }, [
        h('code', key),
        h('span', { class: 'live-meaning' }, MEANINGS[key]),
        h('span', { class: 'live-value' }, `${shown(value.value)}${unit === '' ? '' : ` ${unit}`}`),
        h('input', {
          type: 'range',
          min: from,
          max: to,
          step: (to - from) / HUNDREDTHS,
          value: value.value,
          'aria-label': `${key}: ${MEANINGS[key]}`,
          'aria-valuetext': `${shown(value.value)} ${unit}`,
          onInput: (event: Event) => (value.value = Number((event.target as HTMLInputElement).value)),
          onDblclick: () => (value.value = start),
        }),
      ]);
    });
  }
} // prettier-ignore

export const shown = (value: number): string => String(Number(value.toFixed(2)));
