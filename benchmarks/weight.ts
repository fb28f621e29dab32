import { fileURLToPath } from 'node:url';
import { gzipSync } from 'node:zlib';
import { build, type Rolldown } from 'vite';

/** What the core weighs in a game: minified and compressed, by what the game opens, and by room of the sources. */

const source = fileURLToPath(new URL('../src/core/index.ts', import.meta.url));

/** Bundles what a game imports of the core, from its sources. */
async function bundleOf(names: string): Promise<{ code: string; rooms: Map<string, number> }> {
  const entry = 'what-a-game-imports';
  const built = (await build({
    configFile: false,
    logLevel: 'silent',
    plugins: [
      {
        name: 'game',
        enforce: 'pre',
        resolveId: (id) => (id.endsWith(entry) ? `\0${entry}` : undefined),
        load: (id) => (id === `\0${entry}` ? `export { ${names} } from ${JSON.stringify(source)};` : undefined),
      },
    ],
    build: { write: false, target: 'es2022', minify: true, lib: { entry, formats: ['iife'], name: 'game' } },
  })) as Rolldown.RolldownOutput[];
  const chunk = built[0]!.output[0];
  const rooms = new Map<string, number>();
  for (const [id, { renderedLength }] of Object.entries(chunk.modules)) {
    const room = /src\/core\/(\w+)\//.exec(id)?.[1] ?? (id.includes('flatbush') ? 'flatbush' : 'core');
    rooms.set(room, (rooms.get(room) ?? 0) + renderedLength);
  }
  return { code: chunk.code, rooms };
}

const kilo = (code: string): string => `${(gzipSync(code, { level: 9 }).length / 1000).toFixed(1)} kB`;

/** Lines for the report. */
export async function weights(): Promise<string[]> {
  const whole = await bundleOf('openStage, stepper');
  const bare = await bundleOf('openBare, stepper');
  const alone = await bundleOf('stepper');
  const of = (rooms: ReadonlyMap<string, number>): number => [...rooms.values()].reduce((sum, one) => sum + one, 0);
  const share = (rooms: ReadonlyMap<string, number>, room: string): string =>
    `${((100 * (rooms.get(room) ?? 0)) / of(whole.rooms)).toFixed(1)} %`;
  const rooms = [...whole.rooms].sort((one, other) => other[1] - one[1]);
  return [
    `with everything ${kilo(whole.code)}, opened bare ${kilo(bare.code)}, the stepper alone ${kilo(alone.code)} (aims 40, 25, 2)`,
    ...rooms.map(
      ([room]) => `  ${room.padEnd(10)} ${share(whole.rooms, room)} of it; opened bare ${share(bare.rooms, room)}`,
    ),
  ];
}
