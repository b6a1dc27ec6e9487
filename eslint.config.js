import js from '@eslint/js';
import boundaries from 'eslint-plugin-boundaries';
import svelte from 'eslint-plugin-svelte';
import globals from 'globals';
import ts from 'typescript-eslint';
import svelteConfig from './svelte.config.js';

/** Layers above the core, each with those that it imports from besides itself and the core. */
const LAYERS = {
  protocol: { pattern: 'src/protocol', others: [] },
  collector: { pattern: 'src/collector', others: ['protocol'] },
  station: { pattern: 'src/station', others: ['protocol'] },
  server: { pattern: 'src/lib/server', others: ['protocol', 'station'] },
  cli: { pattern: 'src/cli', others: ['server'] },
  ui: { pattern: 'src/lib/ui', others: ['protocol', 'station'] },
  routes: { pattern: 'src/routes', others: ['protocol', 'station', 'server', 'ui'] },
};

/**
 * Inside the core: which folders each imports from, besides itself; `core` are the files beside the folders. Rules and
 * remedies do not know each other, nor do boxes and the cascade.
 */
const CORE = {
  geometry: ['reading', 'css'],
  reading: ['geometry', 'boxes', 'css'],
  html: ['css'],
  css: ['geometry', 'reading', 'html'],
  boxes: ['geometry', 'reading'],
  visibility: ['core', 'geometry', 'reading', 'boxes', 'css'],
  accounts: ['core', 'geometry', 'reading', 'boxes', 'css', 'visibility'],
  wishes: ['geometry', 'reading', 'boxes', 'css', 'visibility', 'accounts', 'core'],
  evidence: ['core', 'geometry', 'reading', 'html', 'boxes', 'css', 'visibility', 'accounts'],
  rules: [
    'core',
    'geometry',
    'reading',
    'html',
    'boxes',
    'css',
    'visibility',
    'accounts',
    'evidence',
    'trials',
    'wishes',
  ],
  remedies: ['core', 'geometry', 'reading', 'boxes', 'css', 'visibility', 'accounts', 'trials', 'wishes'],
  trials: ['core', 'geometry', 'reading', 'html', 'css'],
  compare: ['core', 'geometry', 'reading', 'boxes', 'css', 'visibility', 'accounts'],
  proof: [
    'core',
    'evidence',
    'geometry',
    'reading',
    'boxes',
    'css',
    'visibility',
    'rules',
    'remedies',
    'trials',
    'compare',
    'wishes',
    'accounts',
  ],
  spot: ['core', 'evidence', 'geometry', 'reading', 'boxes', 'css', 'visibility', 'accounts', 'rules'],
  search: ['core', 'geometry', 'reading', 'boxes', 'css', 'trials'],
  sweep: [
    'core',
    'evidence',
    'geometry',
    'reading',
    'boxes',
    'css',
    'visibility',
    'accounts',
    'rules',
    'proof',
    'trials',
    'search',
  ],
  reports: [
    'core',
    'evidence',
    'geometry',
    'reading',
    'boxes',
    'css',
    'accounts',
    'rules',
    'proof',
    'compare',
    'sweep',
    'wishes',
    'visibility',
    'trials',
    'spot',
  ],
};
const coreType = (folder) => (folder === 'core' ? 'core' : `core-${folder}`);
const CORE_TYPES = ['core', ...Object.keys(CORE).map(coreType)];
const CORE_POLICIES = [
  { from: { element: { type: 'core' } }, allow: { to: { element: { types: { anyOf: CORE_TYPES } } } } },
  ...Object.entries(CORE).map(([folder, others]) => ({
    from: { element: { type: coreType(folder) } },
    allow: { to: { element: { types: { anyOf: [folder, ...others].map(coreType) } } } },
  })),
];

export default ts.config(
  { ignores: ['build', '.svelte-kit', 'node_modules', 'demo', 'drizzle', 'data', 'static', 'docs', 'types'] },
  js.configs.recommended,
  ...ts.configs.strict,
  ...svelte.configs.recommended,
  {
    languageOptions: { globals: { ...globals.browser, ...globals.node } },
    rules: {
      'no-undef': 'off',
      // Declarations of what the core's language lacks must come with the files that use them, in every project.
      '@typescript-eslint/triple-slash-reference': 'off',
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', ignoreRestSiblings: true }],
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-dynamic-delete': 'off',
      'no-empty': ['error', { allowEmptyCatch: false }],
      eqeqeq: ['error', 'always', { null: 'ignore' }],
      'svelte/no-navigation-without-resolve': 'off',
      'svelte/prefer-svelte-reactivity': 'off',
    },
  },
  {
    files: ['**/*.svelte', '**/*.svelte.ts'],
    languageOptions: { parserOptions: { parser: ts.parser, extraFileExtensions: ['.svelte'], svelteConfig } },
  },
  {
    files: ['src/**/*'],
    plugins: { boundaries },
    settings: {
      'boundaries/elements': [
        ...Object.keys(CORE).map((folder) => ({ type: coreType(folder), pattern: `src/core/${folder}` })),
        { type: 'core', pattern: 'src/core' },
        ...Object.entries(LAYERS).map(([type, { pattern }]) => ({ type, pattern })),
      ],
      'import/resolver': { typescript: { project: './tsconfig.json', noWarnOnMultipleProjects: true } },
    },
    rules: {
      'boundaries/dependencies': [
        'error',
        {
          default: 'disallow',
          policies: [
            ...CORE_POLICIES,
            ...Object.entries(LAYERS).map(([type, { others }]) => ({
              from: { element: { type } },
              allow: { to: { element: { types: { anyOf: [...CORE_TYPES, type, ...others] } } } },
            })),
            { allow: { to: { module: { origin: ['external', 'core'] } } } },
          ],
        },
      ],
    },
  },
  {
    files: ['src/core/**/*.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              regex: '^(?!\\.|zod$|css-tree(/tokenizer)?$|parse5$|flatbush$|diff$)',
              message: 'The core uses the language, zod, css-tree, parse5, flatbush and diff alone.',
            },
          ],
        },
      ],
    },
  },
);
