/** Drivers that listen to the page: the only entry that knows the DOM. */
export { DEFAULT_KEYS, keyboard, type KeyBindings, type KeyboardDriver } from './keyboard.js';
export { DEFAULT_PAD, gamepad, type GamepadDriver, type GamepadOptions, type PadBindings } from './gamepad.js';
export { drawStage, type DrawOptions, type Pen, type Probe } from './draw-stage.js';
export { rumble, type Feel, type Shake } from './rumble.js';
export { touch, type TouchControls, type TouchDriver } from './touch.js';
