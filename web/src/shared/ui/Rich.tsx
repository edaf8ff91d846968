// Styled runs of text, as the core writes them: symbols italic, numbers and units upright.
import type { RichText } from '@/shared/api/client';

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

const raised: Record<string, string> = Object.fromEntries([...'0123456789-−'].map((c, i) => [c, [...'⁰¹²³⁴⁵⁶⁷⁸⁹⁻⁻'][i] ?? c]));
const lowered: Record<string, string> = Object.fromEntries([...'0123456789'].map((c, i) => [c, [...'₀₁₂₃₄₅₆₇₈₉'][i] ?? c]));

/** The same as plain text, for labels that are read aloud and option lists. */
export function plain(text: RichText): string {
  return text
    .map((run) => {
      const map = run.style === 'sup' ? raised : run.style === 'sub' ? lowered : null;
      const mark = run.style === 'sub' && /\D/.test(run.text) ? '_' : '';
      return mark + (map ? [...run.text].map((c) => map[c] ?? c).join('') : run.text);
    })
    .join('');
}
