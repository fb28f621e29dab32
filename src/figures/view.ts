import * as Plot from '@observablehq/plot';
import { compileLevel, compileOutlines, type CompiledLevel, type DrawnLevel, type Level, type TraceRow } from 'apperin';
import { HEIGHT, WIDTH, document } from './frame.js';

export const MARGIN = { left: 76, right: 24, top: 16, bottom: 44 };
export const TOP = 76;
/** A level, compiled or as it was written. */
export type AnyLevel = CompiledLevel | Level | DrawnLevel;

export function compiledOf(level: AnyLevel): CompiledLevel {
  if ('terrain' in level) return level;
  return 'outlines' in level ? compileOutlines(level) : compileLevel(level);
}

/** A box in the level's own axes. */
export interface Box {
  x1: number;
  x2: number;
  y1: number;
  y2: number;
}

/** The part of a level to show, and how. */
export interface View {
  x: [number, number];
  y: [number, number];
  /** Units per pixel. */
  pixel: number;
  /** Of the picture, pixels. */
  height: number;
}

/** The whole of a level. */
export function extent({ extent: { x, y, width, height } }: CompiledLevel): Box {
  return { x1: x, x2: x + (width || 1), y1: y, y2: y + (height || 1) };
}

/** A way through a level, with room around it: no more of the level than there is, and no less than the way. */
export function wayThrough(level: CompiledLevel, rows: readonly TraceRow[]): Box {
  const margin = 2.5 * rows.reduce((most, { height }) => Math.max(most, height), 0);
  const all = extent(level);
  const span = (values: readonly number[], least: number, most: number): [number, number] => {
    const low = values.reduce((a, b) => Math.min(a, b), Infinity);
    const high = values.reduce((a, b) => Math.max(a, b), -Infinity);
    return [
      Math.min(low - margin / 2, Math.max(least, low - margin)),
      Math.max(high + margin / 2, Math.min(most, high + margin)),
    ];
  };
  const [x1, x2] = span(rows.map(({ x }) => x), all.x1, all.x2);
  const [y1, y2] = span(rows.map(({ y }) => y), all.y1, all.y2);
  return { x1, x2, y1, y2 };
} // prettier-ignore

/** Views of a whole level: a long one in strips, one below the other, as large as they go. Each with where it begins, pixels. */
export function stripsOf(level: CompiledLevel): { view: View; y: number }[] {
  const { x1, x2, y1, y2 } = extent(level);
  const scaleIn = (strips: number): number =>
    Math.min(
      (WIDTH - MARGIN.left - MARGIN.right) / ((x2 - x1) / strips),
      ((HEIGHT - TOP) / strips - MARGIN.top - MARGIN.bottom) / (y2 - y1),
    );
  const strips = [1, 2, 3, 4].reduce((best, n) => (scaleIn(n) > 1.3 * scaleIn(best) ? n : best));
  const length = (x2 - x1) / strips;
  const margin = Math.max(length, y2 - y1) / 40;
  return [...Array(strips).keys()].map((i) => {
    const from = x1 + i * length;
    const box = { x1: from - margin, x2: from + length + margin, y1: y1 - margin, y2: y2 + margin };
    return { view: viewOf(box, level, (HEIGHT - TOP) / strips), y: TOP + (i * (HEIGHT - TOP)) / strips };
  });
}

/** The same scale across and up, with the box in the middle. */
export function viewOf({ x1, x2, y1, y2 }: Box, level: CompiledLevel, whole = HEIGHT - TOP): View {
  const across = WIDTH - MARGIN.left - MARGIN.right;
  const up = whole - MARGIN.top - MARGIN.bottom;
  const pixel = Math.max((x2 - x1) / across, (y2 - y1) / up);
  const [x, y] = [(x1 + x2) / 2, (y1 + y2) / 2];
  const low = y - (up * pixel) / 2;
  const high = y + (up * pixel) / 2;
  return {
    x: [x - (across * pixel) / 2, x + (across * pixel) / 2],
    y: level.yPoints === 'up' ? [low, high] : [high, low],
    pixel,
    height: whole,
  };
}

export function plot(view: View, marks: Plot.Markish[]): Element {
  return Plot.plot({
    document,
    width: WIDTH,
    height: view.height,
    marginLeft: MARGIN.left,
    marginRight: MARGIN.right,
    marginTop: MARGIN.top,
    marginBottom: MARGIN.bottom,
    style: { fontSize: '13px', fontFamily: 'inherit' },
    x: { domain: view.x, nice: false, label: 'x, units →', labelAnchor: 'right' },
    y: { domain: view.y, nice: false, label: null, ticks: 9 },
    marks: [Plot.frame({ stroke: '#e4e8ea' }), ...marks],
  });
}

/** A shape in the picture's own pixels, drawn by hand: `at` takes a place of the level there. */
export function drawn(
  make: (at: (x: number, y: number) => string) => string,
  style: Record<string, string | number>,
): Plot.RenderFunction {
  return (_, scales, __, dimensions) => {
    const { x, y } = scales as unknown as { x: (value: number) => number; y: (value: number) => number };
    const element = (tag: string): Element => document.createElementNS('http://www.w3.org/2000/svg', tag);
    const { marginLeft, marginTop, width, height, marginRight, marginBottom } = dimensions;
    const box = {
      x: marginLeft,
      y: marginTop,
      width: width - marginLeft - marginRight,
      height: height - marginTop - marginBottom,
    };
    const reach = { left: Infinity, right: -Infinity, top: Infinity, bottom: -Infinity };
    const d = make((px, py) => {
      const [across, down] = [x(px), y(py)];
      [reach.left, reach.right] = [Math.min(reach.left, across), Math.max(reach.right, across)];
      [reach.top, reach.bottom] = [Math.min(reach.top, down), Math.max(reach.bottom, down)];
      return `${across.toFixed(2)},${down.toFixed(2)}`;
    });
    const group = element('g');
    // What lies wholly outside the frame is left out: there is nothing that a renderer could clip it to.
    const isShown = reach.right >= box.x && reach.left <= box.x + box.width && reach.bottom >= box.y && reach.top <= box.y + box.height; // prettier-ignore
    if (!isShown) return group as unknown as SVGElement;
    const path = element('path');
    path.setAttribute('d', d);
    for (const [name, value] of Object.entries(style)) path.setAttribute(name, String(value));
    // Nothing of it outside the frame. Pictures of one size share the frame's name.
    const frame = element('rect');
    for (const [name, value] of Object.entries(box)) frame.setAttribute(name, String(value));
    const clip = element('clipPath');
    const id = `frame-${Math.round(box.width)}-${Math.round(box.height)}`;
    clip.setAttribute('id', id);
    clip.append(frame);
    path.setAttribute('clip-path', `url(#${id})`);
    group.append(clip, path);
    return group as unknown as SVGElement;
  };
}

/** Behind text, so that it can be read over anything. */
export const HALO = { stroke: '#fff', strokeWidth: 4 };
