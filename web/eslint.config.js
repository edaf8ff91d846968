import boundaries from 'eslint-plugin-boundaries';
import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

// A feature (a stage of the trail) imports what is shared and never another feature; the app brings them together.
export default tseslint.config(
  { ignores: ['src/shared/api/schema.d.ts'] },
  ...tseslint.configs.strictTypeChecked,
  hooks.configs.flat['recommended-latest'],
  {
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    plugins: { boundaries },
    settings: {
      'import/resolver': { typescript: true },
      'boundaries/elements': [
        { type: 'app', pattern: 'src/app' },
        { type: 'shared', pattern: 'src/shared' },
        { type: 'feature', pattern: 'src/*', capture: ['name'] },
      ],
    },
    rules: {
      'boundaries/element-types': [
        'error',
        {
          default: 'disallow',
          rules: [
            { from: 'app', allow: ['app', 'shared', 'feature'] },
            { from: 'shared', allow: ['shared'] },
            { from: 'feature', allow: ['shared', ['feature', { name: '${from.name}' }]] },
          ],
        },
      ],
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      '@typescript-eslint/no-misused-spread': 'off', // symbols and signs here are single code points
      '@typescript-eslint/no-confusing-void-expression': ['error', { ignoreArrowShorthand: true }],
    },
  },
);
