import angular from 'angular-eslint';
import boundaries from 'eslint-plugin-boundaries';
import { createTypeScriptImportResolver } from 'eslint-import-resolver-typescript';
import { importX } from 'eslint-plugin-import-x';
import tseslint from 'typescript-eslint';

const projects = ['tsconfig.json', 'web/tsconfig.app.json', 'web/tsconfig.worker.json'];

/** Who may open which door (docs/house.md). The first that fits is a file's room. */
const rooms = [
  { type: 'core', pattern: 'core' },
  { type: 'contract', pattern: 'contract' },
  { type: 'terminal', pattern: 'terminal' },
  { type: 'server-kernel', pattern: 'server/kernel' },
  { type: 'server-http', pattern: 'server/http' },
  { type: 'server-module', pattern: 'server/modules/*', capture: ['module'] },
  { type: 'server-testing', pattern: 'server/testing' },
  // What lies in the folder itself puts the rooms together.
  { type: 'server-root', pattern: 'server' },
  { type: 'web-app', pattern: 'web/app' },
  { type: 'web-data', pattern: 'web/data' },
  { type: 'web-ui', pattern: 'web/ui' },
  { type: 'web-text', pattern: 'web/text' },
  { type: 'web-viewer', pattern: 'web/viewer' },
  { type: 'web-release', pattern: 'web/release' },
  { type: 'web-worker', pattern: 'web/worker' },
  { type: 'web-testing', pattern: 'web/testing' },
  { type: 'web-feature', pattern: 'web/features/*', capture: ['feature'] },
  { type: 'web-root', pattern: 'web' },
  { type: 'demo', pattern: 'demo' },
  { type: 'e2e', pattern: 'e2e' },
  { type: 'bench', pattern: 'bench' },
  { type: 'scripts', pattern: 'scripts' },
  { type: 'stand-ins', pattern: 'stand-ins' },
];
const door = (from, ...to) => ({ from: { element: { type: from } }, allow: { to: { element: { type: to } } } });

/** Text that begins as a statement of SQL does. */
const SQL =
  '/^\\s*(select\\s|insert into\\s|update \\w+( \\w+)? set\\s|delete from\\s|with \\w+ (as|\\()|lock table\\s|truncate\\s|notify\\s|create (table|database)\\s|drop (table|database)\\s|alter table\\s)/';
const noSql = {
  'no-restricted-syntax': [
    'error',
    ...[`Literal[value=${SQL}]`, `TemplateElement[value.raw=${SQL}]`].map((selector) => ({
      selector,
      message: 'SQL stands in sql.ts or sql/*.ts of a module or of the kernel, or in testing/sql.ts.',
    })),
  ],
};

/** Imports that a folder of the server may not have. */
const notFrom = (...patterns) => ({ 'no-restricted-imports': ['error', { patterns }] });
const EXPRESS = { group: ['express', 'express-session'], message: 'Only http knows Express.' };
const THREADS = { group: ['node:worker_threads'], message: 'Only the kernel starts threads.' };
const byIndex = (regex) => ({ regex, message: 'A module is reached by its index alone.' });

export default tseslint.config(
  {
    ignores: ['dist', '.cache', '.data', 'node_modules', 'test-results', '**/*.d.mts'],
  },
  ...tseslint.configs.recommended,
  {
    files: ['**/*.ts', '**/*.mjs', '*.js'],
    plugins: { boundaries, 'import-x': importX },
    settings: {
      'boundaries/elements': rooms,
      'import/resolver': { typescript: { project: projects, noWarnOnMultipleProjects: true } },
      'import-x/resolver-next': [createTypeScriptImportResolver({ project: projects, noWarnOnMultipleProjects: true })],
      'import-x/extensions': ['.ts', '.mjs'],
      'import-x/parsers': { '@typescript-eslint/parser': ['.ts'] },
    },
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': ['error', { fixStyle: 'inline-type-imports' }],
      'no-restricted-imports': 'off',
      'import-x/no-cycle': ['error', { ignoreExternal: true }],
      'boundaries/dependencies': [
        'error',
        {
          default: 'disallow',
          policies: [
            door('core', 'core'),
            door('contract', 'contract', 'core'),
            // The journal is verified by the code that seals it.
            door('terminal', 'terminal', 'server-kernel', 'scripts', 'core'),
            door('server-kernel', 'server-kernel', 'contract', 'core'),
            // Of a module only the types of who asks; what admits them is handed in.
            door('server-http', 'server-http', 'server-kernel', 'server-module', 'contract', 'core'),
            door('server-module', 'server-module', 'server-http', 'server-kernel', 'contract', 'core'),
            door('server-root', 'server-root', 'server-http', 'server-module', 'server-kernel', 'contract'),
            door(
              'server-testing',
              'server-testing',
              'server-root',
              'server-http',
              'server-module',
              'server-kernel',
              'contract',
              'core',
              'demo',
              'scripts',
            ),
            door('web-data', 'web-data', 'web-ui', 'web-worker', 'contract', 'core'),
            door('web-ui', 'web-ui', 'web-worker', 'contract', 'core'),
            door('web-worker', 'web-worker', 'contract', 'core'),
            door('web-app', 'web-app', 'web-data', 'web-ui', 'web-worker', 'web-feature', 'contract', 'core'),
            door('web-root', 'web-app', 'web-data', 'web-ui', 'web-worker'),
            door('web-text', 'web-text', 'web-ui', 'contract', 'core'),
            door('web-viewer', 'web-viewer', 'web-ui', 'contract', 'core'),
            door('web-release', 'web-release', 'web-data', 'web-ui', 'contract', 'core'),
            door(
              'web-feature',
              'web-data',
              'web-text',
              'web-viewer',
              'web-release',
              'web-ui',
              'web-worker',
              'contract',
              'core',
            ),
            {
              from: { element: { type: 'web-feature', captured: { feature: '*' } } },
              allow: {
                to: { element: { type: 'web-feature', captured: { feature: '{{ from.element.captured.feature }}' } } },
              },
            },
            door('web-testing', 'web-testing', 'web-data', 'web-worker', 'contract', 'core'),
            door('demo', 'demo', 'contract', 'core'),
            door('e2e', 'e2e', 'scripts', 'demo', 'contract', 'core'),
            door('bench', 'bench', 'scripts', 'demo', 'contract', 'core'),
            door('scripts', 'scripts', 'demo'),
            // Programs of others, as far as the product is concerned: they know nothing of it.
            door('stand-ins', 'stand-ins'),
          ],
        },
      ],
    },
  },
  {
    // Tests of any room may use the helpers for tests, and reach what they test.
    files: ['web/**/*.spec.ts', 'server/**/*.test.ts', 'scripts/**/*.test.ts', 'terminal/**/*.test.ts'],
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
    files: ['server/**/*.ts', 'terminal/**/*.ts', 'demo/**/*.ts', 'scripts/**/*.mjs'],
    ignores: ['**/*.test.ts', 'server/testing/**', '**/sql.ts', '**/sql/*.ts', '**/sql.mjs'],
    rules: noSql,
  },
  {
    files: ['server/**/*.ts'],
    ignores: ['server/kernel/**', '**/*.test.ts', 'server/testing/**'],
    rules: {
      'no-restricted-globals': [
        'error',
        ...['setTimeout', 'setInterval'].map((name) => ({ name, message: 'Only the kernel starts timers.' })),
      ],
      ...notFrom(THREADS),
    },
  },
  {
    // A book is written by its commit alone, and by the batch of single cells, which is the same in one statement.
    files: ['server/**/*.ts'],
    ignores: ['server/modules/books/commit-book.ts', 'server/modules/scores/score-batch.ts'],
    rules: {
      '@typescript-eslint/no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              group: ['**/kernel/book-transaction'],
              importNames: ['asBookTransaction'],
              message: 'Books are changed by commitBook.',
            },
          ],
        },
      ],
    },
  },
  { files: ['server/kernel/**/*.ts'], ignores: ['**/*.test.ts'], rules: notFrom(EXPRESS) },
  {
    files: ['server/modules/*/*.ts'],
    ignores: ['**/*.test.ts', 'server/modules/*/http.ts'],
    rules: notFrom(EXPRESS, THREADS, byIndex('^\\.\\./(?!\\.\\./)[\\w-]+/')),
  },
  { files: ['server/modules/*/http.ts'], rules: notFrom(THREADS, byIndex('^\\.\\./(?!\\.\\./)[\\w-]+/')) },
  {
    files: ['server/modules/*/sql/*.ts'],
    rules: notFrom(EXPRESS, THREADS, byIndex('^\\.\\./\\.\\./(?!\\.\\./)[\\w-]+/')),
  },
  { files: ['server/http/*.ts'], rules: notFrom(THREADS, byIndex('/modules/[\\w-]+/')) },
  {
    // What puts everything together mounts each module's routes.
    files: ['server/*.ts'],
    rules: notFrom(THREADS, byIndex('/modules/[\\w-]+/(?!http$)')),
  },
  {
    files: ['scripts/**/*.mjs', 'demo/*.mjs', 'terminal/*.mjs', 'eslint.config.js'],
    rules: { '@typescript-eslint/no-unused-expressions': 'off' },
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
    // Controls are PrimeNG's, in our preset; the ledger's grid draws its own.
    files: ['web/**/*.html'],
    extends: [...angular.configs.templateRecommended, ...angular.configs.templateAccessibility],
    rules: {
      '@angular-eslint/template/label-has-associated-control': [
        'error',
        { controlComponents: ['p-checkbox', 'p-radiobutton'] },
      ],
    },
  },
);
