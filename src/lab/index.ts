/** Questions about a tuning or a level, answered by running the core: data in, data out. */
export { MOST_TICKS, openGround, play, type PlayOptions } from './play.js';
export { acrossInAir, fullJump, sheet, type Measure } from './sheet.js';
export { warnings, type Warning } from './warnings.js';
export { arcs, timeCurves, type ArcCurve, type ArcPoint, type Arcs, type TimeCurves } from './curves.js';
export { flights, remark, type Flight } from './story.js';
