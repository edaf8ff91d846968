import boundaries from 'eslint-plugin-boundaries';
import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

// ./run test asks what can be told from each file alone, which takes a sixth of the time; ./run check and ./run test --long ask all, with the
// types of everything in hand. See decision 55.
const whole = process.env.HOBREL_LINT !== 'quick';

// A feature (a stage of the trail) imports what is shared and never another feature; the app brings them together.
export default tseslint.config(
  { ignores: ['src/shared/api/schema.d.ts'] },
  // an exception to a rule that is not asked is none too many
  { linterOptions: { reportUnusedDisableDirectives: whole ? 'error' : 'off' } },
  ...(whole ? [...tseslint.configs.strictTypeChecked, hooks.configs.flat['recommended-latest']] : tseslint.configs.strict),
  {
    languageOptions: { parserOptions: { projectService: whole, tsconfigRootDir: import.meta.dirname } },
    plugins: { boundaries, 'react-hooks': hooks },
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
      'react-hooks/rules-of-hooks': 'error',
      'react-hooks/exhaustive-deps': 'error',
      ...(whole && {
        '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
        '@typescript-eslint/no-misused-spread': 'off', // symbols and signs here are single code points
        '@typescript-eslint/no-confusing-void-expression': ['error', { ignoreArrowShorthand: true }],
      }),
    },
  },
);
