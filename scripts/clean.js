// Empties the build folder, so that nothing of an earlier build is left in it.
import { rmSync } from 'node:fs';

rmSync(new URL('../dist', import.meta.url), { recursive: true, force: true });
