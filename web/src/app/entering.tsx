// What the pages have in common by which somebody comes in: their head, and the key of a link.
import { type ReactNode, useState } from 'react';
import mark from '@/shared/ui/mark.svg';
import './sign-in.css';

const KEPT = 'hobrel-key';

export function Entrance({ words, children }: { words: string; children: ReactNode }) {
  return (
    <main className="sign-in">
      <header>
        <img src={mark} alt="" width="44" height="44" />
        <h1>Hobrel</h1>
        <p>{words}</p>
      </header>
      {children}
    </main>
  );
}

/** The key of the link by which this page was opened. It is taken out of the address, and kept for a reload of this tab. */
export function useKey(): [string, (key: string) => void, () => void] {
  const [key, setKey] = useState(() => {
    const given = decodeURIComponent(window.location.hash.slice(1));
    if (given) {
      window.sessionStorage.setItem(KEPT, given);
      window.history.replaceState(null, '', window.location.pathname);
    }
    return given || (window.sessionStorage.getItem(KEPT) ?? '');
  });
  return [key, setKey, () => window.sessionStorage.removeItem(KEPT)];
}
