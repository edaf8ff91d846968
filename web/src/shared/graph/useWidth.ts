// How wide the place of a drawing is, so that its text keeps its size.
import { type RefObject, useEffect, useRef, useState } from 'react';

export function useWidth<T extends Element>(first: number): [RefObject<T | null>, number] {
  const place = useRef<T>(null);
  const [width, setWidth] = useState(first);
  useEffect(() => {
    const element = place.current;
    if (!element) return;
    const observer = new ResizeObserver(([entry]) => {
      if (entry) setWidth(Math.max(260, Math.round(entry.contentRect.width)));
    });
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [place, width];
}
