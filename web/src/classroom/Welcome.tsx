// What a teacher finds who is here for the first time: three things to begin with, each with a sentence and a picture.
import type { ReactNode } from 'react';

const THINGS: { title: string; words: string; picture: ReactNode }[] = [
  {
    title: 'A class',
    words: 'Its list is pasted, benches are dealt, and its students come in by a code.',
    picture: (
      <g fill="none" stroke="var(--plum)" strokeWidth="1.6">
        {[18, 48, 78].map((x) => (
          <g key={x}>
            <rect x={x - 11} y="26" width="22" height="9" rx="1.5" />
            <circle cx={x - 5.5} cy="17" r="4" />
            <circle cx={x + 5.5} cy="17" r="4" />
          </g>
        ))}
      </g>
    ),
  },
  {
    title: 'Try it yourself first',
    words: 'A lab book of your own: type two headings and some readings, and the graph is there.',
    picture: (
      <g strokeWidth="1.6" stroke="var(--plum)" fill="none">
        <path d="M6 10h34M6 19h34M6 28h34M6 37h34" stroke="var(--rule)" />
        <path d="M12 15h8M28 15h8M12 24h8M28 24h8M12 33h8M28 33h8" />
        <path d="M56 8v30h34" />
        <path d="M58 35 88 12" />
        {[
          [63, 30],
          [71, 26],
          [79, 18],
          [86, 14],
        ].map(([x, y]) => (
          <circle key={x} cx={x} cy={y} r="2.2" fill="var(--sheet)" />
        ))}
      </g>
    ),
  },
  {
    title: 'A plan',
    words: 'A lab book that you have made becomes one, and is given out to the class.',
    picture: (
      <g fill="none" stroke="var(--plum)" strokeWidth="1.6">
        <path d="M10 23h76" stroke="var(--rule)" />
        {[10, 29, 48, 67, 86].map((x, i) => (
          <circle key={x} cx={x} cy="23" r="5" fill={i < 2 ? 'var(--plum)' : 'var(--sheet)'} />
        ))}
      </g>
    ),
  },
];

export function Welcome() {
  return (
    <header>
      <h1>Welcome. There are three things to begin with</h1>
      <ol className="welcome">
        {THINGS.map(({ title, words, picture }) => (
          <li key={title}>
            <svg viewBox="0 0 96 46" width="96" height="46" aria-hidden="true">
              {picture}
            </svg>
            <span>
              <b>{title}</b>
              {words}
            </span>
          </li>
        ))}
      </ol>
    </header>
  );
}
