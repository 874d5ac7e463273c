import js from '@eslint/js';
import next from '@next/eslint-plugin-next';
import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

/** What core may never touch: it runs in a worker, in Node and in a test alike, and knows nobody who calls it. */
const outside = {
  patterns: [
    { group: ['node:*', 'fs', 'path', 'os', 'child_process'], message: 'core does not know Node.' },
    {
      group: ['react', 'react-dom', 'react/*', 'next', 'next/*', 'dexie', 'comlink', 'zustand'],
      message: 'core does not know the page or its storage.',
    },
    {
      group: ['@gentle-compass/*', '**/packages/web/**', '**/packages/cli/**', '**/web/**', '**/cli/**'],
      message: 'core imports nothing of web or cli.',
    },
  ],
};

export default tseslint.config(
  { ignores: ['**/node_modules/**', '**/.next/**', '**/.cache/**', '**/next-env.d.ts', 'packages/web/public/**', '**/test-results/**'] },
  js.configs.recommended,
  {
    files: ['**/*.ts', '**/*.tsx'],
    extends: [...tseslint.configs.strictTypeChecked],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      '@typescript-eslint/no-confusing-void-expression': ['error', { ignoreArrowShorthand: true }],
      '@typescript-eslint/no-unnecessary-condition': ['error', { allowConstantLoopConditions: true }],
      '@typescript-eslint/switch-exhaustiveness-check': 'error',
      eqeqeq: 'error',
      'max-lines': ['error', { max: 500, skipBlankLines: true, skipComments: true }],
    },
  },
  {
    files: ['packages/core/src/**/*.ts'],
    rules: {
      'no-restricted-imports': ['error', outside],
      'no-restricted-globals': [
        'error',
        'window',
        'document',
        'navigator',
        'localStorage',
        'indexedDB',
        'process',
        'Buffer',
        'fetch',
        'setTimeout',
        'Date',
      ],
      'no-restricted-properties': ['error', { object: 'Math', property: 'random', message: 'core takes chance as a parameter.' }],
    },
  },
  {
    // Typed arrays: an entry that must exist is said to exist, not papered over with a zero.
    files: ['packages/core/src/dense/**', 'packages/core/src/sweep/**', 'packages/core/src/alternates/**'],
    rules: { '@typescript-eslint/no-non-null-assertion': 'off' },
  },
  {
    files: ['packages/core/src/**/*.test.ts', 'packages/core/src/testing/**'],
    rules: { 'no-restricted-imports': 'off', 'no-restricted-globals': 'off' },
  },
  {
    files: ['packages/cli/src/**/*.ts'],
    rules: { 'no-restricted-imports': ['error', { patterns: ['react', 'next', '**/web/**'] }] },
  },
  {
    files: ['packages/web/**/*.ts', 'packages/web/**/*.tsx'],
    plugins: { 'react-hooks': hooks, '@next/next': next },
    rules: {
      ...hooks.configs.recommended.rules,
      ...next.configs.recommended.rules,
      ...next.configs['core-web-vitals'].rules,
      '@next/next/no-html-link-for-pages': 'off',
    },
  },
  {
    files: ['**/*.mjs', '**/*.js'],
    languageOptions: {
      globals: {
        process: 'readonly',
        console: 'readonly',
        URL: 'readonly',
        // In functions that run in a page.
        window: 'readonly',
        document: 'readonly',
        addEventListener: 'readonly',
        requestAnimationFrame: 'readonly',
        MutationObserver: 'readonly',
        fetch: 'readonly',
        setTimeout: 'readonly',
        performance: 'readonly',
        Buffer: 'readonly',
      },
    },
  },
);
