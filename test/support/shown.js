// Keeps what the page's readout has shown: for each name its values, in order.
{
  const output = document.querySelector('output');
  const shown = {};
  window.shown = shown;
  const note = () => {
    for (const [name, value] of Object.entries(output.dataset))
      if ((shown[name] ??= []).at(-1) !== value) shown[name].push(value);
  };
  note();
  new window.MutationObserver(note).observe(output, { attributes: true });
}
