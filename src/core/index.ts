/** The core: a running level and the characters in it. No DOM, no Node, no files, no clock of its own. */
export { exp, ln, sine } from './elementary.js';
export { openBare, type BareStage, type OpenLevel } from './stage/bare.js';
export { openStage, type AddOptions, type Stage } from './stage/stage.js';
export type { Area, Box } from './asking/area.js';
export type { FoundKind, Overlap, OverlapList, OverlapOptions } from './asking/overlap.js';
export type { RayEnd, RayOptions, Touch } from './asking/ray.js';
export type { SweepOptions, Thrown } from './asking/sweep.js';
export type { StageMover } from './stage/mover.js';
export type { StageShape } from './stage/shapes.js';
export type { Touching } from './stage/touching.js';
export { stepper, type Stepper } from './stepper/stepper.js';
export { script, type InputRow } from './input/script.js';
export { bot, type Wants } from './input/bot.js';
export { merged } from './input/merged.js';
export type { CarriedBox } from './meetings/boxes.js';
export type { Whom, Zones } from './meetings/meetings.js';
export type { Save, SavedCharacter, SavedNumber } from './stage/save.js';
export { rewind, type Rewind, type RewindOptions } from './stage/rewind.js';
export { startOf } from './input/recording.js';
export { MOST_LAID, type HostCall, type RecordingStart } from './input/host.js';
export { actionName, actionNumber } from './input/actions.js';
export { ability, type Ability, type AbilitySpec, type OwnNumber } from './abilities/ability.js';
export { abilities } from './abilities/index.js';
export { chargedHeight } from './abilities/charge.js';
export type { Contact, Control } from './abilities/control.js';
export { ACTIONS, type Action } from './input/actions.js';
export { Intents, stamp } from './input/intents.js';
export { OPPOSED, type Opposed } from './input/opposed.js';
export { PHASES, POSES, type Phase, type PoseName, type Support } from './state/layout.js';
export type { Character, Driver, Handler, View } from './stage/character.js';
export { compileLevel, rowsOf } from './terrain/compile.js';
export { BUILT_IN_MARKS, outlineOf } from './terrain/tiles.js';
export type { CompiledLevel, Extent, Source } from './terrain/world.js';
export type { FullSurface } from './terrain/registry.js';
export type { CompiledZone } from './terrain/zones.js';
export type { Style } from './terrain/edges.js';
export { compileOutlines, type DrawnLevel } from './terrain/outlines.js';
export {
  level,
  mover,
  routeOf,
  shape,
  type Area as ShapeArea,
  type DrawnWords,
  type MoverWords,
  type RowWords,
  type ShapeWords,
  type ZoneWords,
} from './terrain/words.js';
export { curveOf } from './movers/path-text.js';
export { levelFromGrid, type CellMeaning, type Cells } from './terrain/grid.js';
export type { CompiledMover } from './movers/mover.js';
export type { CompiledRoute } from './movers/route.js';
export {
  LevelError,
  POLICIES,
  SIDES,
  spawnOf,
  TILE_PARTS,
  type Bound,
  type Carry,
  type Level,
  type LevelBase,
  type Mark,
  type Mover,
  type Outline,
  type Point,
  type Policy,
  type Route,
  type Side,
  type Spawn,
  type Surface,
  type TilePart,
  type WrittenLevel,
  type Zone,
} from './terrain/level.js';
export type { Terrain } from './terrain/terrain.js';
export { compileTuning, launchFor, type Motion } from './tuning/motion.js';
export type { VerticalMotion } from './arc/vertical.js';
export { fillTuning, valueOfKey } from './tuning/fill.js';
export {
  ABILITY_GROUPS,
  GOALS,
  GROUP_WORDS,
  groupAllows,
  KEYS,
  keyNamed,
  rangeOf,
  scalesWithTile,
  type ChoiceKey,
  type ListKey,
  type SwitchKey,
  type Key,
  type NumberKey,
  type Unit,
} from './tuning/keys.js';
export { mergeTuning, withKey } from './tuning/merge.js';
export { showValue } from './tuning/words.js';
export { MEANINGS } from './tuning/meanings.js';
export { TuningError, type FallRamp, type FullTuning, type Tuning } from './tuning/tuning.js';
export {
  apexOf,
  arcPieces,
  comingDown,
  fallPieces,
  stateAt,
  timeAbove,
  type ArcPhase,
  type ArcPiece,
} from './arc/arc.js';
export { acrossAt, acrossPieces, timeAcross, type AcrossPiece, type AcrossRule } from './arc/across.js';
export { EVENT_MEANINGS } from './trace/event-meanings.js';
export { EVENTS, EVENT_FIELDS, plainEvent, type EventName, type StageEvent } from './trace/events.js';
export { placeIn, recordPieces, type TracePiece } from './trace/pieces.js';
export { fingerprint } from './trace/fingerprint.js';
export { TRACE_COLUMNS, recordTrace, rowNumbers, type Trace, type TraceRow } from './trace/trace.js';
