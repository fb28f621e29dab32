// Runs in a page before its own script: as far as the page can tell, frames come at 59.94 a second, evenly and without
// a gap, however busy the machine is. What was drawn at each is kept in `window.drawn`.
(() => {
  const frames = (window.drawn = []);
  const real = window.requestAnimationFrame.bind(window);
  let waiting = [];
  let beat = 0;
  window.requestAnimationFrame = (callback) => {
    waiting.push(callback);
    return 0;
  };
  const onFrame = (ms) => {
    beat ||= ms;
    for (; beat <= ms; beat += 1000 / 59.94) {
      const callbacks = waiting;
      waiting = [];
      for (const callback of callbacks) callback(beat);
      frames.push({ ms: beat, x: Number(document.querySelector('output')?.dataset.x) });
    }
    real(onFrame);
  };
  real(onFrame);
})();
