import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { slug } from 'github-slugger';
import { defineConfig, type DefaultTheme } from 'vitepress';

const here = (path: string): string => fileURLToPath(new URL(path, import.meta.url));

/** A page, and what it is called at the side. */
const page = (text: string, link: string): DefaultTheme.SidebarItem => ({ text, link });

/** The pages that are generated of what the entries export: they are there once the site is built. */
function entries(): DefaultTheme.SidebarItem[] {
  const folder = here('../reference/api/');
  if (!existsSync(folder)) return [];
  const pages = { core: 'apperin', browser: 'apperin/browser', files: 'apperin/files', 'files/text': 'apperin/text', lab: 'apperin/lab', vite: 'apperin/vite', figures: 'apperin-tools/figures' };
  return Object.entries(pages).map(([file, entry]) => page(entry, `/reference/api/${file}`));
} // prettier-ignore

const sidebar: DefaultTheme.SidebarItem[] = [
  { text: 'Begin', items: [page('Five minutes', '/five-minutes'), page('What feels wrong', '/feel'), page('From a loop by frames', '/from-a-loop'), page('The examples', '/examples')] },
  {
    text: 'In the order of the work',
    items: [
      page('Run', '/guides/run'),
      page('Fall and stand', '/guides/fall'),
      page('Jump', '/guides/jump'),
      page('Shape the arc', '/guides/shape'),
      page('Forgive', '/guides/forgive'),
      page('More jumps', '/guides/more-jumps'),
      page('Harder ground', '/guides/ground'),
      page('Movers', '/guides/movers'),
      page('Show it', '/guides/show'),
      page('Drive it', '/guides/drive'),
      page('Compare and settle', '/guides/compare'),
      page('Ask about a level', '/guides/survey'),
    ],
  },
  { text: 'In a game', items: [page('The library', '/library'), page('Playing it', '/playing'), page('Camera', '/guides/camera'), page('Rooms', '/guides/rooms'), page('Saving', '/guides/saving'), page('Abilities', '/abilities'), page('Tunings that stay live', '/live'), page('Bundle size', '/guides/bundle'), page('When something is wrong', '/guides/trouble')] },
  { text: 'The instruments', items: [page('The Loft', '/loft'), page('On the command line', '/commands'), page('The lab', '/lab'), page('Fit a motion', '/fit'), page('Search', '/search')] },
  { text: 'How it works', items: [page('From goals to numbers', '/goals'), page('The order of a tick', '/order-of-a-tick'), page('Slopes and steps', '/slopes'), page('Movers, whole', '/movers'), page('Formulas and sources', '/sources'), page('What has been measured', '/measured')] },
  {
    text: 'Reference',
    items: [
      page('Keys of a tuning', '/reference/keys'),
      page('Events', '/reference/events'),
      page('Commands', '/reference/commands'),
      page('File formats', '/reference/formats'),
      page('Messages', '/reference/messages'),
      { text: 'Files', collapsed: true, items: [page('All of them', '/files'), page('Tunings', '/tunings'), page('Levels', '/levels'), page('Inputs', '/inputs'), page('Key bindings', '/keys'), page('Traces and events', '/traces')] },
      { text: 'Exports', collapsed: true, items: entries() },
    ],
  },
]; // prettier-ignore

export default defineConfig({
  title: 'Apperin',
  head: [['link', { rel: 'icon', href: 'data:,' }]],
  description: 'Side-view platformer character controllers: exact motion, exact collisions, numbers that say what they do.',
  outDir: here('../../out/site'),
  cacheDir: here('../../node_modules/.cache/vitepress'),
  // Pages are linked as they lie in a checkout, examples and data too.
  rewrites: { 'index.md': 'pages.md', 'home.md': 'index.md' },
  ignoreDeadLinks: [/^\/(examples|data|schema)\//],
  markdown: {
    theme: { light: 'github-light-high-contrast', dark: 'github-dark-high-contrast' },
    // Headings are linked by the names that they have where the sources are read.
    anchor: { slugify: slug },
    config: (md) => {
      const open = md.renderer.rules.link_open!;
      md.renderer.rules.link_open = (tokens, i, ...rest) => {
        const href = tokens[i]!.attrGet('href') ?? '';
        // What lies beside the docs is put beside the pages when the site is built.
        const beside = /^(?:\.\.\/)+((?:examples|data|schema)\/.*)$/.exec(href)?.[1];
        if (beside !== undefined) tokens[i]!.attrSet('href', `/${beside}${/\.\w+$/.test(beside) ? '' : '/'}`);
        return open(tokens, i, ...rest);
      };
    },
  },
  themeConfig: {
    nav: [page('Five minutes', '/five-minutes'), page('Guides', '/guides/run'), page('Reference', '/reference/keys'), page('All pages', '/pages')] as DefaultTheme.NavItem[],
    sidebar,
    outline: [2, 3],
    search: { provider: 'local' },
    footer: { message: 'MIT licence' },
  },
}); // prettier-ignore
