// A lamp over the page while something takes longer than half a second: what is done, and for how long already.
import { useEffect, useState, useSyncExternalStore } from 'react';
import { findLong, underway, watch } from '@/shared/api/underway';
import './lamp.css';

const OFTEN = 250;

export function Lamp() {
  const works = useSyncExternalStore(watch, underway);
  const [now, setNow] = useState(() => performance.now());
  const lit = works.length > 0;
  useEffect(() => {
    if (!lit) return;
    const clock = setInterval(() => setNow(performance.now()), OFTEN);
    return () => clearInterval(clock);
  }, [lit]);
  const long = lit ? findLong(works, now) : null;
  return (
    <div className={`lamp${long ? ' lit' : ''}`} role="status">
      {long && (
        <>
          <i aria-hidden="true" />
          {long.words}
          {/* counted for the eye: nobody wants to hear every second */}
          {long.seconds !== null && (
            <span className="quiet" aria-hidden="true">
              {long.seconds} s
            </span>
          )}
        </>
      )}
    </div>
  );
}
