// A value that follows another once that has stood still for a moment.
import { useEffect, useState } from 'react';

export function useSettled<T>(value: T, after: number): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = window.setTimeout(() => setSettled(value), after);
    return () => window.clearTimeout(timer);
  }, [value, after]);
  return settled;
}
