import angular from 'angular-eslint';
import boundaries from 'eslint-plugin-boundaries';
import tseslint from 'typescript-eslint';

/** Who may open which door (docs/house.md). A page of web imports no other page. */
const rooms = [
  { type: 'core', pattern: 'core' },
  { type: 'contract', pattern: 'contract' },
  { type: 'terminal', pattern: 'terminal' },
  { type: 'server-http', pattern: 'server/http' },
  { type: 'server-domain', pattern: 'server/domain' },
  { type: 'server-store', pattern: 'server/store' },
  { type: 'server-testing', pattern: 'server/testing' },
  { type: 'web-state', pattern: 'web/state' },
  { type: 'web-ui', pattern: 'web/ui' },
  { type: 'web-workers', pattern: 'web/workers' },
  { type: 'web-shell', pattern: 'web/shell' },
  { type: 'web-testing', pattern: 'web/testing' },
  { type: 'web-page', pattern: 'web/*', capture: ['page'] },
  { type: 'demo', pattern: 'demo' },
  { type: 'e2e', pattern: 'e2e' },
  { type: 'bench', pattern: 'bench' },
];
const door = (from, ...to) => ({ from: { element: { type: from } }, allow: { to: { element: { type: to } } } });

export default tseslint.config(
  {
    ignores: [
      'dist',
      '.cache',
      '.data',
      'node_modules',
      'test-results',
      'scripts/**/*.mjs',
      'demo/*.mjs',
      'demo/*.d.mts',
      'eslint.config.js',
    ],
  },
  ...tseslint.configs.recommended,
  {
    files: ['**/*.ts'],
    plugins: { boundaries },
    settings: {
      'boundaries/elements': rooms,
      'import/resolver': {
        typescript: { project: ['tsconfig.json', 'web/tsconfig.app.json', 'web/tsconfig.worker.json'] },
      },
    },
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': ['error', { fixStyle: 'inline-type-imports' }],
      'no-restricted-imports': 'off',
      'boundaries/dependencies': [
        'error',
        {
          default: 'disallow',
          policies: [
            door('core', 'core'),
            door('contract', 'contract', 'core'),
            // The journal is verified by the code that seals it.
            door('terminal', 'terminal', 'server-domain', 'server-store', 'core'),
            door('server-http', 'server-http', 'server-domain', 'server-store', 'contract', 'core'),
            door('server-domain', 'server-domain', 'server-store', 'contract', 'core'),
            door('server-store', 'server-store', 'contract', 'core'),
            door(
              'server-testing',
              'server-testing',
              'server-http',
              'server-domain',
              'server-store',
              'contract',
              'core',
              'demo',
            ),
            door('web-state', 'web-state', 'web-ui', 'web-workers', 'contract', 'core'),
            door('web-ui', 'web-ui', 'web-workers', 'contract', 'core'),
            door('web-workers', 'web-workers', 'contract', 'core'),
            door('web-shell', 'web-shell', 'web-state', 'web-ui', 'web-workers', 'web-page', 'contract', 'core'),
            {
              from: { element: { type: 'web-page' } },
              allow: { to: { element: { type: ['web-state', 'web-ui', 'web-workers', 'contract', 'core'] } } },
            },
            {
              from: { element: { type: 'web-page', captured: { page: '*' } } },
              allow: { to: { element: { type: 'web-page', captured: { page: '{{ from.element.captured.page }}' } } } },
            },
            door('web-testing', 'web-testing', 'web-state', 'web-workers', 'contract', 'core'),
            door('demo', 'demo', 'contract', 'core'),
            door('e2e', 'e2e', 'demo', 'contract', 'core'),
            door('bench', 'bench', 'demo', 'contract', 'core'),
          ],
        },
      ],
    },
  },
  {
    // Tests of any room may use the helpers for tests.
    files: ['web/**/*.spec.ts'],
    rules: { 'boundaries/dependencies': 'off' },
  },
  {
    files: ['core/**/*.ts'],
    ignores: ['core/**/*.test.ts', 'core/testing/**'],
    rules: {
      'no-restricted-imports': ['error', { patterns: ['node:*', '@angular/*', 'express', 'pg', 'fs', 'path'] }],
      'no-restricted-globals': [
        'error',
        'window',
        'document',
        'fetch',
        'process',
        'performance',
        'setTimeout',
        'crypto',
      ],
      'no-restricted-properties': [
        'error',
        { object: 'Date', property: 'now', message: 'the core never reads a clock' },
        { object: 'Math', property: 'random', message: 'the core has no randomness' },
      ],
    },
  },
  {
    files: ['server/domain/**/*.ts', 'server/store/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: { 'no-restricted-imports': ['error', { patterns: ['express', 'express-session'] }] },
  },
  {
    files: ['web/**/*.ts'],
    extends: [...angular.configs.tsRecommended],
    processor: angular.processInlineTemplates,
    rules: {
      '@angular-eslint/component-selector': ['error', { type: 'element', prefix: 'lt', style: 'kebab-case' }],
      '@angular-eslint/prefer-on-push-component-change-detection': 'error',
    },
  },
  {
    files: ['web/**/*.html'],
    extends: [...angular.configs.templateRecommended, ...angular.configs.templateAccessibility],
  },
);
