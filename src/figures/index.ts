/** Pictures of what the lab finds, as SVG, and PNG from it. */
export { arcsFigure } from './arcs.js';
export { timeFigure } from './time.js';
export { pngOf, type PngParts } from './png.js';
export { speedFigure } from './speed.js';
export { levelFigure } from './level.js';
export { marginsFigure } from './margins.js';
export { surveyFigure } from './survey.js';
export { traceFigure } from './trace.js';
export { searchFigure } from './search.js';
export { varyFigure } from './vary.js';
export { envelopeFigure } from './envelope.js';
export { fitFigure } from './fit.js';
export { reportPage, type Reported, type ReportedLevel } from './report.js';
export { trailsFigure, type Trail } from './trails.js';
