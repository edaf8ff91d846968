// Names of values in a paragraph that is being written.
import type { Schemas } from '@/shared/api/client';
import { letterOf } from '@/shared/ui/symbolsIn';

const MOST = 8;

export interface Choice {
  name: string;
  shown: string;
  words: string;
}

/** What has been typed since the last open brace before the caret; null where none is open. */
export function openName(text: string, caret: number): string | null {
  const found = /\{([^{}\n]{0,40})$/.exec(text.slice(0, caret));
  return found && !found[1]?.startsWith('=') ? (found[1] ?? '') : null;
}

const LOWERED = '₀₁₂₃₄₅₆₇₈₉';
const RAISED = '⁰¹²³⁴⁵⁶⁷⁸⁹';

/** A name as formulas write it, but for its letters: t_10 for t₁₀, T^2 for T². */
const asTyped = (name: string): string =>
  name
    .replace(new RegExp(`[${LOWERED}]+`, 'g'), (digits) => `_${[...digits].map((d) => LOWERED.indexOf(d)).join('')}`)
    .replace(new RegExp(`[${RAISED}]+`, 'g'), (digits) => `^${[...digits].map((d) => RAISED.indexOf(d)).join('')}`);

/** Those that are meant, the ones whose name begins so first. */
export function choose(choices: readonly Choice[], typed: string): Choice[] {
  const wanted = typed.trim().toLowerCase();
  const letters = letterOf(typed.trim()).toLowerCase();
  const begins = choices.filter((c) => c.name.toLowerCase().startsWith(wanted) || asTyped(c.name).toLowerCase().startsWith(letters));
  const holds = choices.filter((c) => !begins.includes(c) && `${c.words} ${c.shown}`.toLowerCase().includes(wanted));
  return [...begins, ...holds].slice(0, MOST);
}

/** Values and numbered things as choices. */
export function choicesOf(report: Schemas['Report']): Choice[] {
  // a name with a colon tells one from others of its kind; where there is no other it says nothing new
  const plainly = new Set(report.values.filter((v) => !v.name.includes(':')).map((v) => v.text));
  const values = report.values.filter((v) => !v.name.includes(':') || !plainly.has(v.text)).map((v) => ({ name: v.name, shown: v.text, words: v.words }));
  const numbered = report.parts.flatMap((part) =>
    part.blocks.flatMap((block) => {
      if (block.kind === 'table') return [{ name: `see:${block.key}`, shown: `Table ${block.number}`, words: part.title }];
      if (block.kind === 'drawing' || block.kind === 'photo') return [{ name: `see:${block.key}`, shown: `Figure ${block.number}`, words: part.title }];
      return [];
    }),
  );
  return [...values, ...numbered];
}
