import next from 'eslint-config-next';
import ts from 'typescript-eslint';

export default ts.config(
  {
    ignores: [
      '.next/',
      'dist/',
      'src/core/kernels/*/assembly/',
      'src/core/kernels/generated/',
      'coverage/',
      '.cache/',
      'node_modules/',
      'next-env.d.ts',
      'test-results/',
      'playwright-report/',
    ],
  },
  ...next,
  {
    files: ['**/*.ts', '**/*.tsx'],
    extends: [ts.configs.recommendedTypeChecked],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      // Indexed reads of typed arrays are checked by the loops around them.
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unnecessary-type-assertion': 'off',
      '@typescript-eslint/consistent-type-imports': ['error', { disallowTypeAnnotations: false }],
      '@typescript-eslint/switch-exhaustiveness-check': [
        'error',
        { considerDefaultExhaustiveForUnions: true },
      ],
    },
  },
  {
    files: ['**/*.ts', '**/*.tsx', '**/*.mjs'],
    rules: { eqeqeq: 'error', 'no-console': 'off', 'prefer-const': 'error' },
  },
);
