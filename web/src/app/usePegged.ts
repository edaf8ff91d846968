// The station that is pegged beside the one on the page: another one, remembered for the lab book, and put there or taken away by a key.
import { useCallback, useEffect, useRef, useState } from 'react';
import type { StageName } from '@/shared/api/client';
import { rememberStation, stationKept } from './stationLeft';

export function usePegged(person: number, book: number, stage: StageName) {
  const [pegged, setPegged] = useState(() => stationKept('pegged', person, book));
  const peg = useCallback(
    (next: StageName | null) => {
      setPegged(next);
      rememberStation('pegged', person, book, next);
    },
    [book, person],
  );
  const now = useRef(stage);
  const before = useRef<StageName | null>(null);
  useEffect(() => {
    if (now.current !== stage) before.current = now.current;
    now.current = stage;
  }, [stage]);
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      if (!e.altKey || e.code !== 'KeyP') return;
      e.preventDefault();
      peg(pegged && pegged !== stage ? null : before.current);
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [peg, pegged, stage]);
  // the same station twice would be one too many
  return { beside: pegged === stage ? null : pegged, peg };
}
