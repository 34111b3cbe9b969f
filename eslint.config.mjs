import astro from 'eslint-plugin-astro';
import reactHooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

const typescript = ['core/**/*.ts', 'demo/**/*.ts', 'app/**/*.ts', 'app/**/*.tsx', '*.ts'];

export default tseslint.config(
  {
    ignores: [
      '**/node_modules',
      '**/dist',
      '**/.astro',
      '.data',
      'app/migrations',
      'test-results',
      '**/*.as.ts',
    ],
  },
  {
    files: typescript,
    extends: [tseslint.configs.strictTypeChecked],
    languageOptions: {
      parserOptions: {
        project: './tsconfig.lint.json',
        tsconfigRootDir: import.meta.dirname,
      },
    },
    rules: {
      // Typed arrays and tables are read by index everywhere; bounds are the loops' business.
      '@typescript-eslint/no-non-null-assertion': 'off',
      // For the same reason an element may be absent although its type does not say so.
      '@typescript-eslint/no-unnecessary-condition': 'off',
      // Numbers belong in sentences.
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      '@typescript-eslint/no-confusing-void-expression': ['error', { ignoreArrowShorthand: true }],
      '@typescript-eslint/no-unused-vars': [
        'error',
        { varsIgnorePattern: '^_', argsIgnorePattern: '^_' },
      ],
    },
  },
  {
    files: ['app/src/**/*.tsx', 'app/src/islands/**/*.ts'],
    ...reactHooks.configs.flat['recommended-latest'],
  },
  {
    // The core knows no interface, no database and no files; rooms are entered through their door.
    files: ['core/src/**/*.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              group: ['node:*', 'react*', 'astro*', 'pg*', 'drizzle*', 'chart.js'],
              message: 'The core is computation alone.',
            },
            {
              regex: '^\\.\\./\\w[\\w-]*/(?!index\\.ts$)[\\w-]+\\.ts$',
              message: 'Come in through the door: index.ts.',
            },
          ],
        },
      ],
    },
  },
  {
    // What pages and server both know stands in the contract; the server's own types are its own.
    files: ['app/src/{islands,browser,components,contract}/**/*.{ts,tsx}'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              regex: '/(server|worker|web)/',
              message: 'Nothing of the server, not even a type: what both know is in the contract.',
            },
          ],
        },
      ],
    },
  },
  {
    // Numbers look alike everywhere: separated thousands, one minus sign, no digits of rounding.
    files: ['app/src/{islands,components}/**/*.{ts,tsx}'],
    ignores: ['app/src/components/drawn.ts'],
    rules: {
      'no-restricted-properties': [
        'error',
        ...['toFixed', 'toPrecision', 'toLocaleString'].map((property) => ({
          property,
          message: 'Numbers in print and rounding come from browser/numbers.ts.',
        })),
      ],
    },
  },
  ...astro.configs.recommended,
);
