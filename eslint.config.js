import js from '@eslint/js';
import prettier from 'eslint-config-prettier';
import svelte from 'eslint-plugin-svelte';
import globals from 'globals';
import ts from 'typescript-eslint';
import svelteConfig from './web/svelte.config.js';

/* What oxlint does not know: components, and what faces of folders export. All other rules are in .oxlintrc.json. */

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
);
