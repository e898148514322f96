import js from '@eslint/js';
import hooks from 'eslint-plugin-react-hooks';
import ts from 'typescript-eslint';

// Different JavaScript engines give different last bits for these (see docs/architecture.md): a picture must not depend on them.
const inexact = [
  'pow',
  'sin',
  'cos',
  'tan',
  'exp',
  'expm1',
  'log',
  'log2',
  'log10',
  'log1p',
  'atan',
  'atan2',
  'asin',
  'acos',
  'sinh',
  'cosh',
  'tanh',
  'cbrt',
  'hypot',
  'random',
];

export default [
  {
    ignores: [
      '**/dist/**',
      '**/node_modules/**',
      '.data/**',
      '.cache/**',
      'packages/kernels/assembly/**',
      'packages/kernels/src/kernelBytes.ts',
    ],
  },
  js.configs.recommended,
  ...ts.configs.recommended,
  {
    languageOptions: {
      globals: {
        process: 'readonly',
        console: 'readonly',
        URL: 'readonly',
        Buffer: 'readonly',
        setTimeout: 'readonly',
        clearTimeout: 'readonly',
        fetch: 'readonly',
      },
    },
    rules: {
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_', ignoreRestSiblings: true }],
      'no-undef': 'off',
    },
  },
  {
    files: ['packages/core/src/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-properties': [
        'error',
        ...inexact.map((property) => ({ object: 'Math', property, message: 'Use exactMath: its last bits are the same in every engine.' })),
        { object: 'Date', property: 'now', message: 'The core reads no clock.' },
      ],
      'no-restricted-syntax': [
        'error',
        { selector: "BinaryExpression[operator='**']", message: 'Use exactMath.pow.' },
        { selector: "NewExpression[callee.name='Date']", message: 'The core reads no clock.' },
      ],
      'no-restricted-globals': [
        'error',
        'window',
        'document',
        'performance',
        'navigator',
        'fetch',
        'process',
        'Buffer',
        'setTimeout',
        'setInterval',
        'crypto',
        'Intl',
      ],
    },
  },
  {
    files: ['packages/web/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
];
