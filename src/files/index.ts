/** Every format read or written: text in, data out. No file system. */
export { FileError, decodeText, formatProblem, type Problem } from './problem.js';
export { visible } from './visible.js';
export { TUNING_LIMITS, baseOf, readTuning, type ReadTuningOptions, type TuningFile } from './tuning.js';
export type { GridMarks } from './cells.js';
export { readGrid } from './grid.js';
export { LEVEL_LIMITS, readLevel, type LevelFile } from './level.js';
export { INPUT_LIMITS, readInput, type InputFile } from './input.js';
export { CAPTURE_LIMITS, readCapture, type CaptureColumns } from './capture.js';
export { KEYS_LIMITS, readKeys, writeKeys, type Bindings, type KeysFile } from './keys.js';
export { editTuning, type Edit } from './edit-tuning.js';
export { FRAMES_LIMITS, readFrames, writeFrames } from './frames.js';
export { PROMISES_LIMITS, readPromises, type PromisesFile, type WrittenPromise } from './promises.js';
export { mergeTuning } from '../core/index.js';
export { writeEvents, writePieces, writeInput, writeTrace } from './trace.js';
export { jsonSchemas } from './schemas.js';
export { drawingOf } from './convert/drawing.js';
export { edgeKeys, edgesOf } from './convert/edges.js';
export { intoRows } from './convert/into-rows.js';
export { editDrawing, piecesOf, type DrawnPiece, type PieceEdit } from './svg/edit.js';
export { ConvertError, rowsOf } from './convert/rows.js';
export {
  FOUND_LIMITS,
  readFound,
  readFoundRow,
  readPlanned,
  writeFound,
  type FoundFile,
  type PlannedFiles,
} from './found.js';
