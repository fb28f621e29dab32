import { compileTuning } from 'apperin';
import { speedCurves, type SpeedCurve } from 'apperin/lab';
import { defineComponent, h, type VNode } from 'vue';
import { between, pathOf } from '../../../src/figures/path.js';
import { Numbers, PROPS, shown } from './numbers.js';

/** Seconds shown of each change of speed. */
const SHOWN = 0.6;
const TALL = 0.4;

/** How the speed follows the keys: run up, let go, turn round; dashed as it was. */
export const LiveSpeed = defineComponent({
  props: PROPS,
  setup(props) {
    const numbers = new Numbers(props);
    const most = Math.max(...[numbers.first, ...numbers.ends].map((tuning) => compileTuning(tuning).ground.speed));
    const of = (curves: readonly SpeedCurve[]): SpeedCurve[] => curves.filter(({ medium }) => medium === 'ground');
    const first = of(speedCurves('', numbers.first).curves);
    /** A change of speed, drawn from its pieces; at its end the speed stays. */
    const drawn = ({ knots }: SpeedCurve): string => {
      const last = { ...knots.at(-1)!, time: Math.max(SHOWN, knots.at(-1)!.time), a: 0 };
      const stretches = between([...knots, last].map(({ time, v, a }) => ({ time, x: time, y: v, vx: 1, vy: a })));
      return pathOf(stretches, (time, v) => `${time / SHOWN} ${(-v / most) * TALL}`);
    };
    /** Three of them side by side, each cut off where the next begins. */
    const panels = (name: string, curves: readonly SpeedCurve[]): VNode[] =>
      curves.map((curve, i) => h('svg', { x: i, y: -TALL * 1.1, width: 1, height: TALL * 2.2, viewBox: `0 ${-TALL * 1.1} 1 ${TALL * 2.2}` }, [h('path', { class: name, d: drawn(curve) })]));
    return () => {
      const now = of(speedCurves('', numbers.now).curves);
      const said = now.map(({ kind, time, distance }) => `${kind} ${shown(time)} s, ${shown(distance)} tiles`).join('; ');
      return h('figure', { class: 'live' }, [
        ...numbers.sliders(),
        h('svg', { viewBox: `0 ${-TALL * 1.1} 3 ${TALL * 2.2}`, role: 'img', 'aria-label': said }, [
          h('path', { class: 'live-grid', d: `M0 0H3M1 ${-TALL}V${TALL}M2 ${-TALL}V${TALL}` }),
          ...panels('live-before', first),
          ...panels('live-curve', now),
          ...now.map(({ kind }, i) => h('text', { class: 'live-word', x: i + 0.98, y: -TALL * 0.93, 'text-anchor': 'end' }, kind)),
        ]),
        h('figcaption', { 'aria-live': 'polite' }, said),
      ]);
    };
  },
}); // prettier-ignore
