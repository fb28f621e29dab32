import DefaultTheme from 'vitepress/theme';
import type { Theme } from 'vitepress';
import { LiveArc } from './live-arc.js';
import { LiveRoom } from './live-room.js';
import { LiveSpeed } from './live-speed.js';
import './site.css';

/** The generator's own theme, with what readers drag. */
export default {
  extends: DefaultTheme,
  enhanceApp({ app }) {
    app.component('LiveArc', LiveArc);
    app.component('LiveRoom', LiveRoom);
    app.component('LiveSpeed', LiveSpeed);
  },
} satisfies Theme;
