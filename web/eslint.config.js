import boundaries from 'eslint-plugin-boundaries';
import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

// What costs a third of all the time and finds least: whether what is called will be dropped one day, and what a compiler of components would
// make of each. Only ./run test leaves it to ./run check and to its long run; see decision 55.
const whole = process.env.HOBREL_LINT !== 'quick';
const quick = ['rules-of-hooks', 'exhaustive-deps'].map((name) => `react-hooks/${name}`);
const costly = Object.keys(hooks.configs.flat['recommended-latest'].rules).filter((name) => !quick.includes(name));

// A feature (a stage of the trail) imports what is shared and never another feature; the app brings them together.
export default tseslint.config(
  { ignores: ['src/shared/api/schema.d.ts'] },
  // an exception to a rule that is not asked is none too many
  { linterOptions: { reportUnusedDisableDirectives: whole ? 'error' : 'off' } },
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
      'boundaries/dependencies': [
        'error',
        {
          default: 'disallow',
          policies: [
            { from: { element: { type: 'app' } }, allow: [{ to: { element: { type: ['app', 'shared', 'feature'] } } }] },
            { from: { element: { type: 'shared' } }, allow: [{ to: { element: { type: 'shared' } } }] },
            {
              from: { element: { type: 'feature' } },
              allow: [{ to: { element: { type: 'shared' } } }, { to: { element: { type: 'feature', captured: { name: '{{ from.captured.name }}' } } } }],
            },
          ],
        },
      ],
      // what is not worked out from data stands in a style sheet
      'no-restricted-syntax': [
        'error',
        { selector: "JSXAttribute[name.name='style'] Property > Literal", message: 'A style of its own belongs in a style sheet, by a class.' },
        // the library calls a choice "segmented control" where we give it no name, and that is what a screen reader says
        {
          selector: "JSXOpeningElement[name.name='Segmented']:not(:has(JSXAttribute[name.name='aria-label'], JSXAttribute[name.name='aria-labelledby']))",
          message: 'A choice has a name.',
        },
      ],
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      '@typescript-eslint/no-deprecated': whole ? 'error' : 'off',
      ...(whole ? {} : Object.fromEntries(costly.map((name) => [name, 'off']))),
      '@typescript-eslint/no-misused-spread': 'off', // symbols and signs here are single code points
      '@typescript-eslint/no-confusing-void-expression': ['error', { ignoreArrowShorthand: true }],
    },
  },
);
