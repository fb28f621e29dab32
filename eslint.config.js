import js from '@eslint/js';
import tseslint from 'typescript-eslint';

/**
 * Imports point one way: core ← lab ← files, figures ← cli, loft, vite; browser sits on core; disk (reading and replacing files) knows none of them. The tools (figures, cli, loft)
 * are built on the library as it is published, and name it. Each folder below is refused the folders that it must not know.
 */
const layers = {
  core: ['lab', 'files', 'figures', 'cli', 'browser', 'loft', 'vite', 'disk'],
  lab: ['files', 'figures', 'cli', 'browser', 'loft', 'vite', 'disk'],
  files: ['figures', 'cli', 'browser', 'loft', 'vite', 'disk'],
  figures: ['files', 'cli', 'browser', 'loft', 'vite', 'disk'],
  browser: ['lab', 'files', 'figures', 'cli', 'loft', 'vite', 'disk'],
  disk: ['core', 'lab', 'files', 'figures', 'cli', 'browser', 'loft', 'vite'],
  cli: ['loft', 'vite', 'browser'],
  vite: ['figures', 'cli', 'browser', 'loft'],
  loft: ['core', 'cli', 'vite', 'disk'],
};

/** What computes must give the same bits everywhere: these functions may differ from engine to engine, or run to run. */
const inexact =
  'hypot sin cos tan asin acos atan atan2 sinh cosh tanh asinh acosh atanh pow exp expm1 log log2 log10 log1p cbrt round random fround'
    .split(' ')
    .map((property) => ({
      object: 'Math',
      property,
      message: 'Not the same bits in every engine: see src/core/elementary.ts.',
    }));

const outside = (names) => `^(\\.\\./)+(${names.join('|')})/|^apperin(-tools)?/(${names.join('|')})`;

/** What is a package of its own is known by its name alone. */
const TOOLS = ['figures', 'cli', 'loft'];
const byName = (layer) =>
  TOOLS.includes(layer)
    ? { regex: '^(\\.\\./)+(core|lab|files|browser|vite)/', message: 'The tools know the library by its name.' }
    : { regex: '^apperin(-tools)?(/|$)', message: 'The library knows itself by its files, and nothing of the tools.' };

export default tseslint.config(
  { ignores: ['dist/', 'packages/*/dist/', 'out/', 'node_modules/', 'examples/*/dist/', 'docs/.vitepress/.temp/'] },
  js.configs.recommended,
  ...tseslint.configs.recommended,
  {
    rules: {
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
      'no-restricted-syntax': 'off',
      eqeqeq: 'error',
    },
  },
  ...Object.entries(layers).map(([layer, refused]) => ({
    files: [`src/${layer}/**/*.{ts,tsx}`],
    ignores: ['src/loft/vite.config.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            { regex: outside(refused), message: `src/${layer} must not know this layer.` },
            byName(layer),
            ...(layer === 'files' || layer === 'cli' || layer === 'vite' || layer === 'disk'
              ? []
              : [{ group: ['node:*'], message: `src/${layer} runs in browsers too.` }]),
          ],
        },
      ],
    },
  })),
  {
    // Abilities are alike: what carries them out knows none of them.
    files: ['src/core/{state,contact,body,sweep,movers}/*.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            { regex: '/abilities/(?!acting\\.js)', message: 'What moves a body must not know any ability.' },
            { regex: outside(layers.core), message: 'src/core must not know this layer.' },
            byName('core'),
            { group: ['node:*'], message: 'src/core runs in browsers too.' },
          ],
        },
      ],
    },
  },
  {
    files: ['src/core/**/*.ts', 'src/lab/**/*.ts'],
    rules: {
      'no-restricted-properties': ['error', ...inexact],
      'no-restricted-globals': [
        'error',
        'Date',
        'performance',
        'window',
        'document',
        'process',
        'setTimeout',
        'setInterval',
        'console',
      ],
    },
  },
  {
    files: ['src/core/**/*.ts'],
    rules: {
      'no-restricted-syntax': [
        'error',
        { selector: "BinaryExpression[operator='**']", message: 'Not the same bits in every engine.' },
      ],
    },
  },
  {
    files: ['scripts/**/*.js', '*.config.js', 'examples/*/vite.config.ts'],
    languageOptions: {
      globals: { process: 'readonly', console: 'readonly', URL: 'readonly', performance: 'readonly' },
    },
  },
  {
    files: ['**/*.cjs'],
    languageOptions: { globals: { process: 'readonly', require: 'readonly', module: 'readonly' } },
    rules: { '@typescript-eslint/no-require-imports': 'off' },
  },
  { files: ['test/support/*.js'], languageOptions: { globals: { window: 'readonly', document: 'readonly' } } },
  { files: ['test/**/*.ts'], rules: { '@typescript-eslint/no-unused-expressions': 'off' } },
);
