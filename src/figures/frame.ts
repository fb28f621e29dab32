import { parseHTML } from 'linkedom';

/**
 * Every figure is made in the same way in Node and in a browser: with a document of its own, so that the text of the
 * picture is the same everywhere.
 */
export const { document } = parseHTML('<html><body></body></html>') as unknown as { document: Document };

export const WIDTH = 1280;
export const HEIGHT = 800;
export const FONT = 'DejaVu Sans, Verdana, sans-serif';

export const INK = '#22303a';
export const FAINT = '#9aa5ab';

/** One look for each of up to six curves: readable without colour by its dashes. */
export const LOOKS = [
  { stroke: '#1d4f6e', dash: '' },
  { stroke: '#a8471f', dash: '10 5' },
  { stroke: '#3f6b2b', dash: '3 4' },
  { stroke: '#6c3a7c', dash: '14 4 3 4' },
  { stroke: '#7a6a12', dash: '6 3' },
  { stroke: '#5a5a5a', dash: '1 4' },
] as const;

export function look(i: number): (typeof LOOKS)[number] {
  return LOOKS[i % LOOKS.length]!;
}

/** A plot placed in the picture. */
export interface Placed {
  plot: Element;
  x: number;
  y: number;
}

/** Puts plots and a heading together into one SVG text, with a title and a description for screen readers. */
export function compose(
  title: string,
  description: string,
  plots: readonly Placed[],
  width = WIDTH,
  height = HEIGHT,
): string {
  const inner = plots.map(({ plot, x, y }) => {
    for (const style of [...plot.querySelectorAll('style')]) style.remove();
    plot.setAttribute('x', String(x));
    plot.setAttribute('y', String(y));
    plot.removeAttribute('class');
    return plot.outerHTML;
  });
  // Names of clips count on from figure to figure; here they are the figure's own, so that it is the same whatever was drawn before.
  const own = nameOf(title + description);
  const clips = new Map<string, string>();
  const named = inner.map((svg) =>
    svg.replace(
      /plot-clip-\d+/g,
      (id) => clips.get(id) ?? (clips.set(id, `clip-${own}-${clips.size + 1}`), clips.get(id)!),
    ),
  );
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" width="${width}" height="${height}" role="img" font-family="${FONT}" color="${INK}">`,
    `<title>${escape(title)}</title>`,
    `<desc>${escape(description)}</desc>`,
    `<rect width="${width}" height="${height}" fill="#fff"/>`,
    `<text x="28" y="36" font-size="20" font-weight="bold" fill="${INK}">${escape(cut(title, 90))}</text>`,
    `<text x="28" y="60" font-size="14" fill="${INK}">${escape(cut(description, 150))}</text>`,
    ...named,
    '</svg>',
    '',
  ].join('\n');
}

/** A short name made of a text (FNV-1a). */
function nameOf(text: string): string {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return (hash >>> 0).toString(36);
}

/** A text no longer than `most` characters. */
export function cut(text: string, most: number): string {
  return text.length > most ? `${text.slice(0, most - 1)}…` : text;
}

/** A name no longer than `most` characters: its end stays, which tells apart what begins alike. */
export function cutName(name: string, most: number): string {
  if (name.length <= most) return name;
  const head = Math.floor((most - 1) / 3);
  return `${name.slice(0, head)}…${name.slice(name.length - (most - 1 - head))}`;
}

/** Names one after the other, together no longer than a heading. */
export function nameList(names: readonly string[], most = 70): string {
  const whole = names.join(', ');
  if (whole.length <= most) return whole;
  return names.map((name) => cutName(name, Math.max(10, Math.floor(most / names.length) - 2))).join(', ');
}

function escape(text: string): string {
  return text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;');
}

/** A number for a label: three figures, no more. */
export function short(value: number): string {
  return String(Number(value.toPrecision(3)));
}
