// Which form of the look is used on this device: the one that was chosen here, or else the one that the system asks for.
import { useSyncExternalStore } from 'react';
import { keepQuietly } from '@/shared/ui/keepQuietly';
import { type ThemeName, writeTheme } from './palettes';

export type Choice = ThemeName | 'system';

const KEY = 'colours';
const asked = {
  dark: window.matchMedia('(prefers-color-scheme: dark)'),
  contrast: window.matchMedia('(prefers-contrast: more)'),
  still: window.matchMedia('(prefers-reduced-motion: reduce)'),
};
const watching = new Set<() => void>();
const sheet = new CSSStyleSheet();
let choice = readChoice(localStorage.getItem(KEY));
let theme: ThemeName | null = null;

function readChoice(kept: string | null): Choice {
  return kept === 'light' || kept === 'dark' || kept === 'contrast' ? kept : 'system';
}

function settle() {
  const system = asked.contrast.matches ? 'contrast' : asked.dark.matches ? 'dark' : 'light';
  const next = choice === 'system' ? system : choice;
  if (next !== theme) {
    theme = next;
    sheet.replaceSync(writeTheme(next));
  }
  for (const tell of watching) tell();
}

export function installTheme() {
  document.adoptedStyleSheets = [...document.adoptedStyleSheets, sheet];
  for (const query of Object.values(asked)) query.addEventListener('change', settle);
  // chosen in another tab
  window.addEventListener('storage', (event) => {
    if (event.key !== KEY) return;
    choice = readChoice(event.newValue);
    settle();
  });
  settle();
}

export function chooseTheme(next: Choice) {
  choice = next;
  keepQuietly(localStorage, KEY, next);
  settle();
}

function watch(tell: () => void) {
  watching.add(tell);
  return () => void watching.delete(tell);
}

export const useTheme = () => useSyncExternalStore(watch, () => theme ?? 'light');
/** Whether the system asks for nothing to move. */
export const useStill = () => useSyncExternalStore(watch, () => asked.still.matches);
export const useThemeChoice = () => useSyncExternalStore(watch, () => choice);
