/** Drivers that listen to the page: the only entry that knows the DOM. */
export { DEFAULT_KEYS, keyboard, type KeyBindings, type KeyboardDriver } from './keyboard.js';
