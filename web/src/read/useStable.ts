// What can be done in a table, as objects that stay the same, so that nothing is drawn again because of them.
import { useLayoutEffect, useRef, useState } from 'react';
import type { CellActs } from './SettingBand';

/** Acts that stay the same objects over renders and always do what the newest render means by them. */
export function useStable(acts: CellActs): CellActs {
  const newest = useRef(acts);
  useLayoutEffect(() => {
    newest.current = acts;
  });
  const [stable] = useState<CellActs>(() => ({
    commit: (...a) => newest.current.commit(...a),
    move: (...a) => newest.current.move(...a),
    extend: (...a) => newest.current.extend(...a),
    reach: (...a) => newest.current.reach(...a),
    paste: (...a) => newest.current.paste(...a),
    fill: (...a) => newest.current.fill(...a),
    blank: () => newest.current.blank(),
    focus: (...a) => newest.current.focus(...a),
    asideReading: (...a) => newest.current.asideReading(...a),
    asideSetting: (...a) => newest.current.asideSetting(...a),
    removeSetting: (...a) => newest.current.removeSetting(...a),
  }));
  return stable;
}
