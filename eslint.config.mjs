import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  { ignores: ['node_modules', '.next', 'dist', '.crindle', 'next-env.d.ts', 'test-results', '*.config.*', '.dependency-cruiser.cjs'] },
  { files: ['scripts/**/*.mjs'], extends: [tseslint.configs.disableTypeChecked] },
  {
    files: ['{src,demo,bench,standins}/**/*.{ts,tsx}', 'e2e/**/*.ts'],
    extends: [tseslint.configs.recommendedTypeChecked],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-non-null-assertion': 'error',
      '@typescript-eslint/switch-exhaustiveness-check': ['error', { considerDefaultExhaustiveForUnions: false }],
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      // An async handler may have nothing to wait for and still must return a promise.
      '@typescript-eslint/require-await': 'off',
    },
  },
  // Components and hooks are there alone.
  {
    files: ['src/**/*.tsx', 'src/**/use*.ts'],
    plugins: { 'react-hooks': hooks },
    rules: hooks.configs.recommended.rules,
  },
);
