import js from '@eslint/js';
import ts from 'typescript-eslint';
import hooks from 'eslint-plugin-react-hooks';

export default ts.config(
  {
    ignores: [
      '**/dist',
      'node_modules',
      '.data',
      'core/kernels/assembly',
      'out',
      'test-results',
      '**/*.cjs',
      '**/*.config.*',
      '.dependency-cruiser.cjs',
    ],
  },
  js.configs.recommended,
  ...ts.configs.recommended,
  {
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      'no-undef': 'off',
      eqeqeq: ['error', 'always', { null: 'ignore' }],
    },
  },
  {
    files: ['core/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-globals': ['error', 'window', 'document', 'process', 'Buffer', 'fetch'],
      'no-restricted-properties': [
        'error',
        { object: 'Math', property: 'random', message: 'Results must repeat: use core/raster/random.' },
        { object: 'Math', property: 'pow', message: 'Its last bit differs between engines: use core/exact.' },
        { object: 'Math', property: 'tanh', message: 'Its last bit differs between engines.' },
      ],
      'no-restricted-syntax': [
        'error',
        {
          selector: "BinaryExpression[operator='**']",
          message: 'Its last bit differs between engines: use core/exact.',
        },
      ],
    },
  },
  // Playwright reads what a fixture needs from its pattern.
  { files: ['e2e/**/*.ts'], rules: { 'no-empty-pattern': 'off' } },
  {
    files: ['web/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
);
