import { TuningError, level, openStage, placeIn, recordPieces, stepper, type Character, type Driver } from 'apperin';
import { drawStage, keyboard, type KeyboardDriver } from 'apperin/browser';
import { defineComponent, h, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { Numbers, PROPS } from './numbers.js';

/** A driver that presses nothing. */
const NOBODY: Driver = { read: () => undefined };

/** A small room to play in, on the running core, while its numbers are dragged: rows of a level between `/`. */
export const LiveRoom = defineComponent({
  props: { ...PROPS, rows: { type: String, required: true } },
  setup(props) {
    const numbers = new Numbers(props);
    const canvas = ref<HTMLCanvasElement>();
    const wrong = ref('');
    const rows = props.rows.split('/');
    const size = { width: Math.max(...rows.map((row) => row.length)), height: rows.length };
    let ended = false;
    onMounted(() => {
      const stage = openStage(level({ rows, bounds: { left: 'wall', right: 'wall', top: 'open', bottom: 'wall' } }));
      const hero: Character = stage.add(numbers.now);
      const steps = stepper({ rate: 120 });
      let way = recordPieces(stage, hero);
      hero.on('takeoff', () => {
        way.end();
        way = recordPieces(stage, hero);
      });
      let keys: KeyboardDriver | undefined;
      canvas.value!.addEventListener('focus', () => hero.drive((keys = keyboard(window))));
      canvas.value!.addEventListener('blur', () => {
        keys?.stop();
        hero.drive(NOBODY);
      });
      watch(numbers.all.map(({ value }) => value), () => {
        try {
          hero.retune(numbers.now);
          wrong.value = '';
        } catch (error) {
          if (!(error instanceof TuningError)) throw error;
          wrong.value = error.message;
        }
      });
      const pen = canvas.value!.getContext('2d')!;
      const frame = (ms: number): void => {
        if (ended) return;
        const { clientWidth } = canvas.value!;
        const scale = (clientWidth * devicePixelRatio) / size.width;
        if (canvas.value!.width !== Math.round(scale * size.width)) Object.assign(canvas.value!, { width: Math.round(scale * size.width), height: Math.round(scale * size.height) });
        steps.run(ms / 1000, (dt, at) => stage.tick(dt, at));
        pen.setTransform(1, 0, 0, 1, 0, 0);
        pen.clearRect(0, 0, canvas.value!.width, canvas.value!.height);
        pen.setTransform(scale, 0, 0, scale, 0, 0);
        const style = getComputedStyle(canvas.value!);
        pen.fillStyle = style.getPropertyValue('--vp-c-default-1');
        rows.forEach((row, y) => [...row].forEach((mark, x) => mark === '#' && pen.fillRect(x, y, 1, 1)));
        pen.strokeStyle = style.getPropertyValue('--vp-c-brand-1');
        pen.lineWidth = 2 / scale;
        pen.beginPath();
        // The way since the last takeoff.
        for (const piece of way.pieces) for (let i = 0; i <= 8; i++) {
          const { x, y } = placeIn(piece, piece.from + ((piece.until - piece.from) * i) / 8);
          pen.lineTo(x, y);
        }
        pen.stroke();
        drawStage(pen, stage, { between: steps.between });
        requestAnimationFrame(frame);
      };
      requestAnimationFrame(frame);
    });
    onBeforeUnmount(() => (ended = true));
    return () =>
      h('figure', { class: 'live' }, [
        ...numbers.sliders(),
        h('canvas', { ref: canvas, tabindex: 0, style: { aspectRatio: `${size.width} / ${size.height}` }, 'aria-label': 'A room to play in: arrow keys and the space bar, while it has the focus' }),
        h('figcaption', { 'aria-live': 'polite' }, wrong.value || 'Click into the room, then arrow keys and the space bar. It goes on moving while you drag.'),
      ]);
  },
}); // prettier-ignore
