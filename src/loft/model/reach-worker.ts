import { compileTuning, type Tuning } from 'apperin';
import { envelope } from 'apperin/lab';

/** Finds what can be reached from one takeoff, beside the picture. */
self.onmessage = ({ data }: MessageEvent<Tuning>) => {
  const motion = compileTuning(data);
  const { cell, cells } = envelope(motion, { cell: motion.full.tile / 2, most: 20_000 });
  self.postMessage({ cell, cells: cells.map(({ column, row }) => ({ column, row })) });
};
