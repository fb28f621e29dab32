import { compileTuning, type Tuning } from 'apperin';
import { envelope } from 'apperin/lab';
import { filled, outlined } from '../../figures/path.js';

/** Finds what can be reached from one takeoff, beside the picture: as paths, from the feet at the takeoff, y up. */
self.onmessage = ({ data }: MessageEvent<Tuning>) => {
  const found = envelope(compileTuning(data));
  const at = (x: number, y: number): string => `${x - found.start},${y}`;
  self.postMessage({ area: filled(found, at), outline: outlined(found, at) });
};
