import { compileTuning } from 'apperin';
import { speedCurves, type SpeedCurve } from 'apperin/lab';
import { defineComponent, h } from 'vue';
import { Numbers, PROPS, shown } from './numbers.js';

/** Seconds shown of each change of speed. */
const SHOWN = 0.6;
const TALL = 0.2;

/** How the speed follows the keys: run up, let go, turn round; dashed as it was. */
export const LiveSpeed = defineComponent({
  props: PROPS,
  setup(props) {
    const numbers = new Numbers(props);
    const most = Math.max(...[numbers.first, ...numbers.ends].map((tuning) => compileTuning(tuning).ground.speed));
    const of = (curves: readonly SpeedCurve[]): SpeedCurve[] => curves.filter(({ medium }) => medium === 'ground');
    const first = of(speedCurves('', numbers.first).curves);
    /** Three changes of speed side by side, each SHOWN seconds wide. */
    const pathOf = (curves: readonly SpeedCurve[]): string =>
      curves
        .map(({ points }, i) => {
          const at = (time: number, v: number): string => `${(i + Math.min(time / SHOWN, 1)) * 1} ${(-v / most) * TALL}`;
          return `M${points.map(({ time, v }) => at(time, v)).join('L')}L${at(SHOWN, points.at(-1)!.v)}`;
        })
        .join('');
    return () => {
      const now = of(speedCurves('', numbers.now).curves);
      const said = now.map(({ kind, time, distance }) => `${kind} ${shown(time)} s, ${shown(distance)} tiles`).join('; ');
      return h('figure', { class: 'live' }, [
        ...numbers.sliders(),
        h('svg', { viewBox: `0 ${-TALL * 1.1} 3 ${TALL * 2.2}`, role: 'img', 'aria-label': said }, [
          h('path', { class: 'live-grid', d: `M0 0H3M1 ${-TALL}V${TALL}M2 ${-TALL}V${TALL}` }),
          h('path', { class: 'live-before', d: pathOf(first) }),
          h('path', { class: 'live-curve', d: pathOf(now) }),
          ...now.map(({ kind }, i) => h('text', { class: 'live-word', x: i + 0.98, y: -TALL * 0.93, 'text-anchor': 'end' }, kind)),
        ]),
        h('figcaption', { 'aria-live': 'polite' }, said),
      ]);
    };
  },
}); // prettier-ignore
