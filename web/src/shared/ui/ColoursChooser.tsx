// Light, dark or high contrast, or whatever the device asks for.
import { type Choice, chooseTheme, useThemeChoice } from '@/shared/theme/chosen';
import { usePopover } from './usePopover';

const choices: { value: Choice; words: string }[] = [
  { value: 'system', words: 'As this device' },
  { value: 'light', words: 'Light' },
  { value: 'dark', words: 'Dark' },
  { value: 'contrast', words: 'High contrast' },
];

export function ColoursChooser() {
  const { open, opener, toggle, around } = usePopover();
  const chosen = useThemeChoice();
  return (
    <div className="colours" {...around}>
      <button
        ref={opener}
        type="button"
        className="plain-button"
        aria-expanded={open}
        aria-label="Colours"
        title="Colours: light, dark, high contrast"
        onClick={toggle}
      >
        <svg width="20" height="20" viewBox="0 0 20 20" aria-hidden="true">
          <path d="M3 3H17V17H3Z" fill="none" stroke="currentColor" strokeWidth="1.6" />
          <path d="M3 17 17 3V17Z" fill="currentColor" />
        </svg>
      </button>
      {open && (
        <fieldset>
          <legend className="hidden-but-heard">Colours</legend>
          {choices.map(({ value, words }) => (
            <label key={value}>
              <input type="radio" name="colours" autoFocus={value === chosen} checked={value === chosen} onChange={() => chooseTheme(value)} />
              {words}
            </label>
          ))}
        </fieldset>
      )}
    </div>
  );
}
