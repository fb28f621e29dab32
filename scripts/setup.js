// Gets a fresh checkout ready: the packages, and with --browser what the tests need besides: the browser, a Redis server, shells.
import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, readFileSync, statSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

const root = fileURLToPath(new URL('..', import.meta.url));
const run = (command, args) =>
  spawnSync(command, args, { cwd: root, stdio: ['ignore', 'ignore', 'inherit'] }).status === 0;
const onPath = (name) => spawnSync('sh', ['-c', `command -v ${name}`], { stdio: 'ignore' }).status === 0;

const installed = `${root}node_modules/.package-lock.json`;
const lock = `${root}package-lock.json`;
if (!existsSync(installed) || statSync(installed).mtimeMs < statSync(lock).mtimeMs || missing()) {
  console.log('Installing packages …');
  execFileSync('npm', ['ci', '--loglevel=error'], { cwd: root, stdio: ['ignore', 'ignore', 'inherit'] });
}

/** Whether a package of the lock file is not there, as after an interrupted installation. */
function missing() {
  const { packages } = JSON.parse(readFileSync(lock, 'utf8'));
  return Object.entries(packages).some(([path, { optional }]) => path && !optional && !existsSync(root + path));
}

if (process.argv.includes('--browser')) {
  // Debian's name of each, what it is for, and whether the tests can do without.
  const wanted = [
    { name: 'chromium', use: 'The browser tests need Chromium', needed: true },
    { name: 'redis-server', use: 'The tests of a search by a queue need a Redis server', needed: true },
    { name: 'openssl', use: 'The test of a queue with TLS needs openssl', needed: true },
    { name: 'gjs', use: 'The test of a second JavaScript engine needs gjs', needed: false },
    { name: 'zsh', use: 'The test of its completion needs zsh', needed: false },
    { name: 'fish', use: 'The test of its completion needs fish', needed: false },
  ].filter(({ name }) => !onPath(name));
  if (wanted.length > 0 && process.getuid?.() === 0 && onPath('apt-get')) {
    const names = wanted.map(({ name }) => name);
    console.log(`Installing ${names.join(' and ')} from Debian's packages …`);
    run('apt-get', ['update']);
    run('apt-get', ['install', '-y', '--no-install-recommends', ...names]);
  }
  for (const { name, use, needed } of wanted) {
    if (onPath(name)) continue;
    console.error(`${use}: install it (Debian: apt-get install ${name}) so that \`${name}\` is on the PATH.`);
    if (needed) process.exit(1);
  }
}
