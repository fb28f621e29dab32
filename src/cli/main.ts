#!/usr/bin/env node
import { readAll } from '../disk/read.js';
import { EXIT } from './exit.js';
import { answer } from './program.js';

for (const stream of [process.stdout, process.stderr])
  stream.on('error', (error: NodeJS.ErrnoException) => {
    // Whoever read the output has seen enough.
    process.exit(error.code === 'EPIPE' ? EXIT.done : EXIT.wrong);
  });

let stdin: Uint8Array | undefined;
process.exitCode = await answer(process.argv.slice(2), {
  out: (data) => void process.stdout.write(data),
  err: (text) => void process.stderr.write(text),
  watched: process.stderr.isTTY,
  stdin: (most) => (stdin ??= readAll(0, most)),
});
