// Runs scripts of the package one after the other, those joined by a plus side by side: node scripts/steps.js lint+build mocha
// What a step says is shown when it has ended; the first that fails ends it all.
import { spawn } from 'node:child_process';
import { fileURLToPath } from 'node:url';

const root = fileURLToPath(new URL('..', import.meta.url));

/** Runs one script; alone it speaks as it goes, beside others when it is done. */
function run(name, alone) {
  const started = performance.now();
  return new Promise((done, fail) => {
    const child = spawn('npm', ['run', '--silent', name], { cwd: root, stdio: ['ignore', alone ? 'inherit' : 'pipe', alone ? 'inherit' : 'pipe'] }); // prettier-ignore
    let said = '';
    for (const stream of [child.stdout, child.stderr]) stream?.on('data', (text) => (said += text));
    child.on('error', fail);
    child.on('close', (status) => {
      process.stdout.write(said);
      console.log(`${name}: ${((performance.now() - started) / 1000).toFixed(0)} s`);
      if (status === 0) done();
      else fail(new Error(`${name} failed`));
    });
  });
}

try {
  for (const step of process.argv.slice(2)) {
    const names = step.split('+');
    await Promise.all(names.map((name) => run(name, names.length === 1)));
  }
} catch (error) {
  console.error(error.message);
  process.exit(1);
}
