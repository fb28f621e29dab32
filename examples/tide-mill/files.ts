/// <reference types="vite/client" />
import type { Level } from 'apperin';
import { readLevel, readTuning } from 'apperin/files';
import millText from './mill.level.yaml?raw';
import brindleText from './brindle.tuning.yaml?raw';
import bootsText from './boots.tuning.yaml?raw';

const mill = readLevel(millText, { file: 'mill.level.yaml' });
/** The mill as it was written, in rows, and compiled. */
export const level = mill.level as Level;
export const { compiled } = mill;

const open = (file: string) => ({ file, text: brindleText });

/** How Brindle moves, and how with the spring boots on. */
export const brindle = readTuning(brindleText, { file: 'brindle.tuning.yaml' }).tuning;
export const booted = readTuning(bootsText, { file: 'boots.tuning.yaml', open }).tuning;
