// Which points of a graph a remark is about: by their settings, with what it says.
import { useMemo } from 'react';
import { useBook } from './context';

/** Of the open remarks on readings and settings of the run that is looked at. */
export function usePins(): ReadonlyMap<string, string> {
  const { remarks, run } = useBook(({ state }) => ({ remarks: state.remarks, run: state.document.runs[0]?.id }));
  return useMemo(() => {
    const pins = new Map<string, string>();
    for (const { place, settled, text } of remarks) {
      if (settled || !place || place.run !== run || (place.kind !== 'reading' && place.kind !== 'setting')) continue;
      pins.set(place.item, pins.has(place.item) ? `${pins.get(place.item)}\n${text}` : text);
    }
    return pins;
  }, [remarks, run]);
}
