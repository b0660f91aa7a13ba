import js from '@eslint/js'
import globals from 'globals'
import reactHooks from 'eslint-plugin-react-hooks'
import tseslint from 'typescript-eslint'

// The arrow points one way: web -> core, server -> core, standins -> core, demo -> core.
const mayNotImport = (folder, others, also = []) => ({
  files: [`${folder}/**/*.{ts,tsx}`],
  ignores: ['**/*.test.ts', '**/*.test.tsx', '**/test/**'],
  rules: {
    '@typescript-eslint/no-restricted-imports': [
      'error',
      {
        patterns: [
          { regex: `^(\\.\\./)+(${others.join('|')})(/|$)`, message: `${folder}/ may not import from there` },
          ...also,
        ],
      },
    ],
  },
})
const nodeModules = { regex: '^node:', message: 'core/ is pure' }

export default tseslint.config(
  { ignores: ['dist', 'node_modules', '.data', 'test-results', 'playwright-report'] },
  js.configs.recommended,
  ...tseslint.configs.recommended,
  {
    languageOptions: { globals: { ...globals.node } },
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      eqeqeq: ['error', 'always', { null: 'ignore' }],
      'no-console': 'off',
    },
  },
  { files: ['web/**/*.mjs'], languageOptions: { globals: globals.browser } },
  {
    files: ['web/**/*.{ts,tsx}'],
    languageOptions: { globals: globals.browser },
    ...reactHooks.configs.flat.recommended,
    rules: {
      ...reactHooks.configs.flat.recommended.rules,
      'react-hooks/incompatible-library': 'off',
      'react-hooks/globals': 'off',
    },
  },
  {
    files: ['server/**/*.ts', 'standins/**/*.ts'],
    languageOptions: { parserOptions: { project: './tsconfig.node.json' } },
    rules: {
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: false }],
    },
  },
  mayNotImport(
    'core',
    ['server', 'web', 'standins', 'demo', 'e2e'],
    [nodeModules, { regex: '^(react|express|sequelize)', message: 'core/ is pure' }],
  ),
  mayNotImport('server', ['web', 'standins', 'demo', 'e2e']),
  mayNotImport('web', ['server', 'standins', 'demo', 'e2e']),
  mayNotImport('standins', ['server', 'web', 'demo', 'e2e']),
  mayNotImport('demo', ['server', 'web', 'standins', 'e2e']),
)
