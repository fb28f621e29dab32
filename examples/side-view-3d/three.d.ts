/** three.js brings no types of its own; this page does without them. */
declare module 'three';
