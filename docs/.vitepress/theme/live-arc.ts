import { TuningError, type Tuning } from 'apperin';
import { arcs, type ArcCurve, type Arcs } from 'apperin/lab';
import { defineComponent, h, type VNode } from 'vue';
import { pathOf, wayOf } from '../../../src/figures/path.js';
import { Numbers, PROPS, shown } from './numbers.js';

/** A curve, drawn from the pieces of the motion as the figures do. */
const drawn = (curve: ArcCurve): string => pathOf(wayOf(curve), (x, y) => `${x} ${-y}`);

/** The arcs of a tuning, or what is wrong with it. */
function arcsOf(tuning: Tuning): Arcs | string {
  try {
    return arcs('', tuning);
  } catch (error) {
    if (error instanceof TuningError) return error.message;
    throw error;
  }
}

const curvesOf = ({ full, tap, air }: Arcs): ArcCurve[] => [full, tap, ...air];

/** The hitbox, its feet at a point of an arc. */
const body = ({ motion }: Arcs, x: number, y: number): VNode => h('rect', { class: 'live-body', x: x - motion.width / 2, y: -y - motion.height, width: motion.width, height: motion.height }); // prettier-ignore

/** The jump of a tuning, to scale, redrawn while its numbers are dragged; dashed as it was. */
export const LiveArc = defineComponent({
  props: PROPS,
  setup(props) {
    const numbers = new Numbers(props);
    const first = arcsOf(numbers.first);
    if (typeof first === 'string') throw new RangeError(first);
    const known = [numbers.first, ...numbers.ends].map(arcsOf).filter((one) => typeof one !== 'string');
    const points = known.flatMap((one) => curvesOf(one).flatMap(({ apex, landing }) => [apex, landing]));
    const [left, right] = [-1, Math.ceil(Math.max(...points.map(({ x }) => x))) + 1];
    const top = Math.ceil(Math.max(...points.map(({ y }) => y)) + first.motion.height);
    const lines = [...Array.from({ length: top + 1 }, (_, y) => `M${left} ${-y}H${right}`), ...Array.from({ length: right - left + 1 }, (_, i) => `M${left + i} 0V${-top}`)].join('');
    return () => {
      const now = arcsOf(numbers.now);
      const shapes = typeof now === 'string' ? [] : [body(now, 0, 0), body(now, now.full.apex.x, now.full.apex.y), body(now, now.full.landing.x, 0), ...curvesOf(now).map((curve, i) => h('path', { class: i === 0 ? 'live-curve' : 'live-curve live-other', d: drawn(curve) }))];
      const said = typeof now === 'string' ? now : `${shown(now.full.apex.y)} tiles high after ${shown(now.full.apex.time)} s, back after ${shown(now.full.landing.time)} s and ${shown(now.full.landing.x)} tiles; a tap ${shown(now.tap.apex.y)}`;
      return h('figure', { class: 'live' }, [
        ...numbers.sliders(),
        h('svg', { viewBox: `${left} ${-top} ${right - left} ${top + 0.5}`, role: 'img', 'aria-label': said }, [
          h('path', { class: 'live-grid', d: lines }),
          h('path', { class: 'live-ground', d: `M${left} 0H${right}V0.5H${left}Z` }),
          ...curvesOf(first).map((curve) => h('path', { class: 'live-before', d: drawn(curve) })),
          ...shapes,
        ]),
        h('figcaption', { 'aria-live': 'polite' }, said),
      ]);
    };
  },
}); // prettier-ignore
