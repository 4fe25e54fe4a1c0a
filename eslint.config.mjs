import reactHooks from 'eslint-plugin-react-hooks'
import tseslint from 'typescript-eslint'

export default tseslint.config(
  {
    ignores: [
      '**/node_modules/**',
      '**/.next/**',
      '.data/**',
      '.data-*/**',
      'app/next-env.d.ts',
      'test-results/**',
      'core/bench/bundle.mjs',
      'core/cli/bundle.mjs',
    ],
  },
  ...tseslint.configs.recommended,
  {
    files: ['app/src/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': reactHooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
  {
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/no-unused-expressions': 'off',
      'no-restricted-syntax': ['error', { selector: 'TSEnumDeclaration', message: 'Use a const list and a union type.' }],
    },
  },
)
