/** Questions about a tuning or a level, answered by running the core: data in, data out. */
export { MOST_TICKS, beginPlay, openGround, play, type PlayOptions, type PlayedTrace, type Playing } from './play.js';
export { MEASURE_GROUPS, acrossInAir, fullJump, runningLaunch, sheet, type Measure } from './sheet.js';
export { RULES, warnings, type Warning } from './warnings.js';
export { wallJump, wallCurves, wallReturn, type WallCurves, type WallJump } from './walls.js';
export {
  arcs,
  speedCurves,
  timeCurves,
  type ArcCurve,
  type Arcs,
  type SpeedCurve,
  type SpeedCurves,
  type TimeCurves,
} from './curves.js';
export { partsOf, type ArcKnot, type ArcPoint } from './knots.js';
export {
  MOST_COMPARED,
  compare,
  compareRates,
  compareRuns,
  type ComparedKey,
  type ComparedMeasure,
  type ComparedRates,
  type ComparedRuns,
  type Comparison,
  type Decision,
  type Named,
} from './compare.js';
export {
  MOST_POINTS,
  choicesOf,
  family,
  tuningAt,
  vary,
  varied,
  varyPoint,
  type Varied,
  type VariedKey,
  type VariedPoint,
} from './vary.js';
export { missingAbilities, ownTable, takeAbilities, tuningWithoutMissing, withoutMissing, wrongOwn } from './own.js';
export { VERSION } from './version.js';
export { withoutShapes, type Written } from './survey/without.js';
export { gapSpare } from './gap.js';
export { verify, type Promised, type Verified } from './verify.js';
export { MET, MOST_EVALUATIONS, design, type Design, type DesignGoal, type FreeKey } from './design.js';
export { fitSketch, type SketchedJump } from './sketch.js';
export { fit, type Fit, type FitOptions, type Fitted } from './fit/fit.js';
export { CaptureError, type Capture } from './fit/capture.js';
export type { Found } from './fit/found.js';
export type { Pressed } from './fit/presses.js';
export type { Residual } from './fit/residual.js';
export type { Segment, Unexplained } from './fit/supports.js';
export type { Stepped } from './fit/stepped.js';
export type { Stretch } from './fit/stretches.js';
export { fromFrames, toFrames, type FromFrames } from './frames.js';
export type { FrameNumbers, FrameOrder, FrameSteering } from './frame-numbers.js';
export { playFrames, type FrameKeys, type FramePlaces } from './loop.js';
export type { Manoeuvre } from './manoeuvres.js';
export { envelope, type Envelope, type EnvelopeOptions } from './envelope/envelope.js';
export type { Band, Flat, Knot, Side } from './envelope/region.js';
export { flights, remark, type Flight } from './story.js';
export { unknownKey } from './entries.js';
export { nearest } from './nearest.js';
export type { Host } from './host.js';
export { margins, pressMargins, tightestOf, tightestPress, type PressMargin } from './margins.js';
export { pressMap, type PressMap, type PressMapOptions } from './press-map.js';
export type { Grace, MarginOptions } from './trial.js';
export {
  sceneOf,
  survey,
  Surveyed,
  type Answer,
  type Survey,
  type SurveyOptions,
  type SurveyedLink,
  type SurveyedPlace,
  type SurveyedTarget,
} from './survey/survey.js';
export { Explorer, type Explored } from './survey/explore.js';
export type { Answered, KeptLink, PressTask, Task } from './survey/task.js';
export type { Proof } from './survey/proof.js';
export type { Doing } from './survey/search.js';
export { verifySurvey, type PromisedSurvey } from './survey/promised.js';
export { reaches, type Reached } from './survey/reaches.js';
export { SEARCH_LIMITS, rowSet, rowTuning, rowValues, searchPlan, type InputName, type PlanOptions, type PlannedPromise, type PlannedScene, type PlannedSurvey, type RowValues, type SearchPlan } from './search/plan.js'; // prettier-ignore
export {
  LOST,
  SearchJobs,
  type Holds,
  type JobDone,
  type RowPromise,
  type SearchInputs,
  type SearchRow,
} from './search/job.js';
export {
  headOf,
  isIn,
  mergeFound,
  rangesOf,
  type FoundRows,
  type Merged,
  type SearchHead,
  type Shard,
} from './search/found.js';
export { holdsOf, ranked, type Ranked, type Wish } from './search/rank.js';
export { search, type SearchOptions } from './search/search.js';
