// Serves an example, or runs it where it has no page: node scripts/example.js [folder], examples/first-hop unless given.
import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, readdirSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

const root = fileURLToPath(new URL('..', import.meta.url));
const folder = process.argv[2] ?? 'examples/first-hop';
if (!existsSync(`${root}${folder}/main.ts`)) {
  const all = readdirSync(`${root}examples`).filter((name) => existsSync(`${root}examples/${name}/main.ts`));
  console.error(`${folder} is no example; there are ${all.map((name) => `examples/${name}`).join(', ')}`);
  process.exit(2);
}
execFileSync('npm', ['run', '--silent', 'build'], { cwd: root, stdio: ['ignore', 'ignore', 'inherit'] });
const configFile = `${root}${folder}/vite.config.ts`;
if (existsSync(configFile)) {
  const { createServer } = await import('vite');
  const server = await createServer({ configFile });
  await server.listen();
  server.printUrls();
} else
  process.exit(
    spawnSync(process.execPath, ['--import=tsx', `${root}${folder}/main.ts`], { stdio: 'inherit' }).status ?? 1,
  );
