// Rules for the browser's scripts and the browser tests. Layout is not its business: what is here finds mistakes.
import tseslint from 'typescript-eslint';

const mistakes = {
  'eqeqeq': ['error', 'always', { null: 'ignore' }],
  'no-var': 'error',
  'prefer-const': ['error', { destructuring: 'all' }],
  'no-implicit-coercion': 'error',
  'no-self-compare': 'error',
  'no-unreachable-loop': 'error',
  'no-constant-binary-expression': 'error',
  'no-unused-private-class-members': 'error',
  'no-eval': 'error',
  'no-implied-eval': 'error',
  'no-new-func': 'error',
  'max-lines': ['error', { max: 400 }],
};

export default [
  { ignores: ['**/wwwroot/**', '**/node_modules/**', '**/bin/**', '**/obj/**', 'artifacts/**'] },
  {
    files: ['**/Scripts/**/*.ts'],
    languageOptions: { parser: tseslint.parser, parserOptions: { project: './tsconfig.json', tsconfigRootDir: import.meta.dirname } },
    plugins: { '@typescript-eslint': tseslint.plugin },
    rules: {
      ...mistakes,
      '@typescript-eslint/no-unused-vars': 'error',
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: false }],
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-unnecessary-type-assertion': 'error',
      '@typescript-eslint/explicit-module-boundary-types': 'error',
    },
  },
  {
    files: ['**/*.mjs'],
    plugins: { '@typescript-eslint': tseslint.plugin },
    rules: { ...mistakes, '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }] },
  },
];
