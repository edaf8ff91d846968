// Whether something is unfolded, for as long as the tab is open: who has unfolded it once wants it so on the next graph too.
import { useState } from 'react';
import { keepQuietly } from './keepQuietly';

export function useRemembered(what: string): [boolean, (open: boolean) => void] {
  const key = `unfolded: ${what}`;
  const [open, setOpen] = useState(() => sessionStorage.getItem(key) === 'yes');
  const keep = (next: boolean) => {
    keepQuietly(sessionStorage, key, next ? 'yes' : 'no');
    setOpen(next);
  };
  return [open, keep];
}
