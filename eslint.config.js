import js from '@eslint/js';
import prettier from 'eslint-config-prettier';
import svelte from 'eslint-plugin-svelte';
import globals from 'globals';
import ts from 'typescript-eslint';
import svelteConfig from './web/svelte.config.js';

/** Folders of core from the lowest up; a folder may import only from earlier ones. */
const CORE_LAYERS = ['math', 'time', 'pricing', 'whatif', 'volatility', 'surface', 'probability', 'structure', 'hedge'];

export default ts.config(
  {
    ignores: [
      '**/build/',
      '**/build-processes/',
      '**/.svelte-kit/',
      '**/drizzle/',
      '**/node_modules/',
      '.data/',
      '**/test-results/',
      'bench/baseline/',
    ],
  },
  js.configs.recommended,
  ...ts.configs.strict,
  ...svelte.configs.recommended,
  prettier,
  ...svelte.configs.prettier,
  {
    languageOptions: { globals: { ...globals.browser, ...globals.node } },
    rules: {
      eqeqeq: ['error', 'always', { null: 'ignore' }],
      'no-restricted-syntax': [
        'error',
        { selector: 'ExportAllDeclaration', message: 'Name what is exported.' },
        {
          selector: "MemberExpression[object.name='Math'][property.name='random']",
          message: 'Random numbers come from a seeded source.',
        },
      ],
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_', ignoreRestSiblings: true },
      ],
      'svelte/no-navigation-without-resolve': 'off',
      // The type checker knows better than the rule.
      'no-undef': 'off',
      // Published coefficients stand as printed.
      'no-loss-of-precision': 'off',
      // Sets and parameters made and read within one computation need no reactivity.
      'svelte/prefer-svelte-reactivity': 'off',
    },
  },
  {
    files: ['**/*.svelte', '**/*.svelte.ts'],
    languageOptions: { parserOptions: { parser: ts.parser, svelteConfig } },
  },
  {
    files: ['{core,market,web}/src/**'],
    rules: {
      // A name means one thing where it can be seen.
      'no-shadow': 'off',
      '@typescript-eslint/no-shadow': ['error', { hoist: 'functions', ignoreTypeValueShadow: true, allow: ['_'] }],
    },
  },
  {
    files: ['core/src/**'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            { regex: '^(node:|@umwelt/|[a-z@])', message: 'core depends on nothing: no packages, no input or output.' },
          ],
        },
      ],
      'no-restricted-globals': [
        'error',
        'Date',
        'console',
        'process',
        'window',
        'document',
        'fetch',
        'performance',
        'setTimeout',
      ],
    },
  },
  // Calendar arithmetic on given dates is pure; the clock (Date.now, new Date()) is not used there either.
  {
    files: ['core/src/time/**'],
    rules: { 'no-restricted-globals': ['error', 'console', 'process', 'window', 'document', 'fetch'] },
  },
  ...CORE_LAYERS.map((layer, i) => ({
    files: [`core/src/${layer}/**`],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            { regex: '^(node:|@umwelt/|[a-z@])', message: 'core depends on nothing: no packages, no input or output.' },
            ...CORE_LAYERS.slice(i + 1).map((higher) => ({
              group: [`../${higher}/*`],
              message: `${layer} lies below ${higher}.`,
            })),
            { regex: '^\\.\\./[a-z]+/(?!index\\.ts$)', message: 'Import the folder, not a file inside it.' },
          ],
        },
      ],
    },
  })),
  {
    files: ['market/src/**'],
    rules: {
      'no-restricted-imports': [
        'error',
        { patterns: [{ group: ['@umwelt/web*', '**/web/**', 'svelte*'], message: 'market lies below web.' }] },
      ],
    },
  },
);
