import { compileTuning, type InputRow, type Tuning } from 'apperin';
import { readLevel } from 'apperin/files';
import { pressMargins, type PressMargin } from 'apperin/lab';

export interface MarginsAsked {
  question: number;
  file: string;
  text: string;
  tuning: unknown;
  rows: readonly InputRow[];
  at: string | readonly [number, number];
}

export interface MarginsTold {
  question: number;
  margins: readonly PressMargin[];
}

/** Finds how tight the presses of a take are, beside the picture. What cannot be found, of a body that fits nowhere, is not said. */
self.onmessage = ({ data: { question, file, text, tuning, rows, at } }: MessageEvent<MarginsAsked>) => {
  const tell = (margins: readonly PressMargin[]): void => self.postMessage({ question, margins } satisfies MarginsTold);
  try {
    const { compiled } = readLevel(text, { file });
    tell(pressMargins({ level: compiled, tuning: compileTuning(tuning as Tuning), input: rows, at }));
  } catch {
    tell([]);
  }
};
