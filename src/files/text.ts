/** What a tool needs before it knows what it is asked: light, where `apperin/files` brings readers of everything. */
export { visible } from './visible.js';
export { nearest } from '../lab/nearest.js';
export { VERSION } from '../lab/version.js';
