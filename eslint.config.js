import js from '@eslint/js';
import boundaries from 'eslint-plugin-boundaries';
import svelte from 'eslint-plugin-svelte';
import globals from 'globals';
import ts from 'typescript-eslint';
import svelteConfig from './svelte.config.js';

/** Layers from the first to the last: each imports only from itself and those before it. */
const LAYERS = [
  ['core', 'src/core'],
  ['protocol', 'src/protocol'],
  ['collector', 'src/collector'],
  ['station', 'src/station'],
  ['server', 'src/lib/server'],
  ['cli', 'src/cli'],
  ['ui', 'src/lib/ui'],
  ['routes', 'src/routes'],
];
const allowedFrom = (index) => LAYERS.slice(0, index + 1).map(([type]) => type);

export default ts.config(
  { ignores: ['build', '.svelte-kit', 'node_modules', 'demo', 'drizzle', 'data', 'static', 'docs'] },
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
      'boundaries/elements': LAYERS.map(([type, pattern]) => ({ type, pattern })),
      'import/resolver': { typescript: { project: './tsconfig.json', noWarnOnMultipleProjects: true } },
    },
    rules: {
      'boundaries/dependencies': [
        'error',
        {
          default: 'disallow',
          policies: [
            ...LAYERS.map(([type], index) => ({
              from: { element: { type } },
              allow: { to: { element: { types: { anyOf: allowedFrom(index) } } } },
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
