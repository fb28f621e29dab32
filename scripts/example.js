// Serves an example: node scripts/example.js [folder], examples/first-hop unless given.
import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

const root = fileURLToPath(new URL('..', import.meta.url));
const folder = process.argv[2] ?? 'examples/first-hop';
if (!existsSync(`${root}${folder}/vite.config.ts`)) {
  console.error(`${folder} is no example; there are examples/first-hop and examples/dash`);
  process.exit(2);
}
const { createServer } = await import('vite');
execFileSync('npm', ['run', '--silent', 'build'], { cwd: root, stdio: ['ignore', 'ignore', 'inherit'] });
const server = await createServer({ configFile: `${root}${folder}/vite.config.ts` });
await server.listen();
server.printUrls();
