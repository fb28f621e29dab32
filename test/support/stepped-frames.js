// Runs in a page before its own script: frames come only when a test asks for them, 60 a second (or `perSecond`) by a clock of their own. It is far ahead of
// the page's, so that whatever was pressed before a frame acts at its start.
(() => {
  let waiting = [];
  let ms = 1e9;
  window.requestAnimationFrame = (callback) => {
    waiting.push(callback);
    return 0;
  };
  const frame = () => {
    const callbacks = waiting;
    waiting = [];
    ms += 1000 / (window.perSecond ?? 60);
    for (const callback of callbacks) callback(ms);
  };
  window.step = (frames) => {
    for (let i = 0; i < frames; i++) frame();
  };
  // Frames until a condition on what the readout says holds. Returns how many there were, or −1.
  window.stepUntil = (condition, most) => {
    const holds = new Function('is', `with (is) { return ${condition}; }`);
    const number = (text) => (text === '' || Number.isNaN(Number(text)) ? text : Number(text));
    const output = document.querySelector('output');
    let from = NaN;
    for (let i = 0; i <= most; i++) {
      const is = Object.fromEntries(Object.entries(output.dataset).map(([name, text]) => [name, number(text)]));
      from = Number.isNaN(from) ? is.t : from;
      if (holds({ ...is, since: is.t - from })) return i;
      frame();
    }
    return -1;
  };
})();
