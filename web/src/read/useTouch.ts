// Whether fingers are what this device is used with.
import { useSyncExternalStore } from 'react';

const coarse = window.matchMedia('(pointer: coarse)');

export function useTouch(): boolean {
  return useSyncExternalStore(
    (changed) => {
      coarse.addEventListener('change', changed);
      return () => coarse.removeEventListener('change', changed);
    },
    () => coarse.matches,
  );
}
