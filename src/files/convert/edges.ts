import type { CompiledLevel } from '../../core/index.js';

/**
 * Every compiled edge, in the level's own axes, with what it carries.
 * @example
 * ```ts
 * JSON.stringify(edgesOf(mill.level))
 * ```
 */
export function edgesOf(level: CompiledLevel): object {
  const { terrain } = level;
  const up = level.yPoints === 'up' ? 1 : -1;
  const forms = ['solid', 'ground', 'line', 'one-way'];
  return {
    title: level.title,
    yPoints: level.yPoints,
    edges: [...Array(terrain.boundsFrom).keys()].map((e) => {
      const style = terrain.styles[terrain.style[e]!]!;
      return {
        from: [terrain.x1[e], terrain.y1[e]! * up + 0],
        to: [terrain.x2[e], terrain.y2[e]! * up + 0],
        normal: [terrain.nx[e]! + 0, terrain.ny[e]! * up + 0],
        form: forms[terrain.form[e]!],
        prev: terrain.prev[e],
        next: terrain.next[e],
        ...(style.surface > 0 ? { surface: level.surfaces[style.surface]!.name } : {}),
        ...(style.layer > 0 ? { layer: level.layers[style.layer] } : {}),
        ...(style.shape >= 0 ? { name: level.shapes[style.shape] } : {}),
        ...(level.sources[style.source] ? { source: level.sources[style.source] } : {}),
      };
    }),
  };
}

/**
 * The edges of a level as text that does not depend on their order, nor on where corners of others touch a straight run.
 * @example
 * ```ts
 * edgeKeys(mill.level)
 * ```
 */
export function edgeKeys(level: CompiledLevel): string[] {
  const { terrain, surfaces, layers, shapes } = level;
  const { x1, y1, x2, y2 } = terrain;
  const runs = new Map<string, { ends: [number, number, number, number]; carries: string }>();
  for (let e = 0; e < terrain.boundsFrom; e++) {
    const { surface, layer, shape, noWall, noLedge } = terrain.styles[terrain.style[e]!]!;
    const carries = [
      terrain.form[e],
      surfaces[surface]!.name,
      layers[layer],
      shapes[shape] ?? '',
      noWall,
      noLedge,
    ].join(' ');
    runs.set(`${x1[e]} ${y1[e]} ${terrain.nx[e]} ${terrain.ny[e]} ${carries}`, {
      ends: [x1[e]!, y1[e]!, x2[e]!, y2[e]!],
      carries,
    });
  }
  for (const [key, run] of runs) {
    const [, , nx, ny] = key.split(' ');
    for (;;) {
      const after = `${run.ends[2]} ${run.ends[3]} ${nx} ${ny} ${run.carries}`;
      const next = runs.get(after);
      if (!next || next === run) break;
      run.ends[2] = next.ends[2];
      run.ends[3] = next.ends[3];
      runs.delete(after);
    }
  }
  return [...runs.values()].map(({ ends, carries }) => `${ends.map((end) => end + 0).join(' ')} ${carries}`).sort();
}
