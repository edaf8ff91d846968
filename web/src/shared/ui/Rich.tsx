// Styled runs of text, as the core writes them: symbols italic, numbers and units upright.
import type { RichText } from '@/shared/api/client';
import { raise } from './raised';

export function Rich({ text }: { text: RichText }) {
  return (
    <span>
      {text.map((run, i) => {
        switch (run.style) {
          case 'italic':
            return <i key={i}>{run.text}</i>;
          case 'sup':
            return <sup key={i}>{run.text}</sup>;
          case 'sub':
            return <sub key={i}>{run.text}</sub>;
          case 'bold':
            return <b key={i}>{run.text}</b>;
          default:
            return <span key={i}>{run.text}</span>;
        }
      })}
    </span>
  );
}

const lowered: Record<string, string> = Object.fromEntries([...'0123456789'].map((c, i) => [c, [...'₀₁₂₃₄₅₆₇₈₉'][i] ?? c]));

/** The same as plain text, for labels that are read aloud and option lists. */
export function plain(text: RichText): string {
  return text
    .map((run) => {
      if (run.style === 'sup') return raise(run.text);
      const map = run.style === 'sub' ? lowered : null;
      const mark = run.style === 'sub' && /\D/.test(run.text) ? '_' : '';
      return mark + (map ? [...run.text].map((c) => map[c] ?? c).join('') : run.text);
    })
    .join('');
}
