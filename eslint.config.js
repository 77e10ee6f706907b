import { readdirSync } from 'node:fs';
import tseslint from 'typescript-eslint';
import reactHooks from 'eslint-plugin-react-hooks';
import globals from 'globals';

/** Forbids imports by pattern: the arrow of dependencies points one way, and `core` knows nobody. */
const forbid = (message, group) => ({
  'no-restricted-imports': ['error', { patterns: [{ group, message }] }],
});

/** The ids of all node types: a node is one file, called by its id. */
const NODE_IDS = readdirSync(new URL('packages/core/src/nodes/', import.meta.url), { withFileTypes: true })
  .filter((entry) => entry.isDirectory())
  .flatMap((room) => readdirSync(new URL(`packages/core/src/nodes/${room.name}/`, import.meta.url)))
  .filter((file) => file.endsWith('.ts') && !file.endsWith('.test.ts') && file !== 'index.ts')
  .map((file) => file.slice(0, -3));

const named = (ids) => `Literal[value=/^(${ids.join('|')})$/]`;

/** What a node does is said in its definition: whoever compares its type by name would have to know each new one. */
const NO_NODE_IDS = {
  'no-restricted-syntax': [
    'error',
    {
      selector: named(NODE_IDS.filter((id) => id.includes('-'))),
      message: 'A type of nodes by its id: let its definition say what is wanted of it.',
    },
    {
      selector: `BinaryExpression[left.property.name="type"][left.object.property.name="record"] > ${named(NODE_IDS)}`,
      message: 'A type of nodes by its id: let its definition say what is wanted of it.',
    },
    {
      selector: 'BinaryExpression[left.object.name="setting"][left.property.name="id"]',
      message: 'A setting by its id: let its definition say what is wanted of it.',
    },
  ],
};

export default tseslint.config(
  { ignores: ['**/dist', '**/node_modules', 'out', '**/test-results', '**/playwright-report'] },
  ...tseslint.configs.recommended,
  {
    rules: {
      'no-eval': 'error',
      'no-implied-eval': 'error',
      'no-new-func': 'error',
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
    },
  },
  {
    files: ['packages/core/src/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      ...forbid('core has no interface code and no I/O: it may import only itself, zod and jsep.', [
        'react*',
        'three*',
        '@react-three/*',
        '@xyflow/*',
        'node:*',
        'fs',
        'path',
        'dexie',
        'comlink',
        '@umberfish/*',
        '@gltf-transform/*',
      ]),
      'no-restricted-globals': [
        'error',
        'window',
        'document',
        'fetch',
        'process',
        'performance',
        'setTimeout',
        'console',
        'self',
        'navigator',
      ],
    },
  },
  {
    files: ['packages/formats/src/**/*.ts', 'packages/bake/src/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: forbid('formats and bake depend on core only, and do no I/O of their own.', [
      'react*',
      'three*',
      '@react-three/*',
      'node:*',
      'fs',
      'path',
      'dexie',
      '@umberfish/web',
      '@umberfish/demo',
      'umberfish-cli',
    ]),
  },
  {
    files: ['packages/cli/src/**/*.ts', 'demo/src/**/*.ts'],
    rules: forbid('the command line and the demo use core and formats, never the interface.', [
      'react*',
      'three*',
      '@umberfish/web',
      'dexie',
    ]),
  },
  {
    files: ['apps/web/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': reactHooks },
    languageOptions: { globals: globals.browser },
    rules: {
      'react-hooks/rules-of-hooks': 'error',
      'react-hooks/exhaustive-deps': 'error',
      ...forbid('the interface imports packages by their name, never by a path into them.', [
        '**/packages/*',
        'umberfish-cli',
        'node:*',
      ]),
    },
  },
  {
    files: ['packages/*/src/**/*.ts', 'apps/web/src/**/*.{ts,tsx}'],
    ignores: [
      '**/*.test.ts',
      'packages/core/src/nodes/**',
      'packages/core/src/testing/**',
      'packages/core/src/project/migrations.ts',
    ],
    rules: NO_NODE_IDS,
  },
  { files: ['scripts/*.mjs', 'packages/cli/bin/*.mjs'], languageOptions: { globals: globals.node } },
);
