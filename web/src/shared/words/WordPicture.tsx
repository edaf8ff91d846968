// The small pictures beside explanations: a few strokes each, in the colours of the page.
import type { TradeWord } from './words';

const POINT = (x: number, y: number) => <circle key={`${x} ${y}`} cx={x} cy={y} r={3} className="word-point" />;
const BAR = (x: number, y: number, u: number) => (
  <g key={`bar ${x} ${y}`}>
    <path className="word-ink" d={`M${x} ${y - u}V${y + u}M${x - 3} ${y - u}h6M${x - 3} ${y + u}h6`} />
    {POINT(x, y)}
  </g>
);

const PICTURES: Record<TradeWord['picture'], React.ReactNode> = {
  bar: (
    <>
      <path className="word-line" d="M6 50L74 14" />
      {BAR(18, 40, 9)}
      {BAR(40, 36, 9)}
      {BAR(62, 17, 9)}
    </>
  ),
  residual: (
    <>
      <path className="word-line" d="M6 50L74 14" />
      <path className="word-stick" d="M22 42V31M54 25V36" />
      {POINT(22, 30)}
      {POINT(54, 37)}
    </>
  ),
  triangle: (
    <>
      <path className="word-ink" d="M12 48H60V16" />
      <path className="word-line" d="M12 48L60 16" />
      <text x="36" y="59">
        a
      </text>
      <text x="66" y="36">
        b
      </text>
    </>
  ),
  range: (
    <>
      <path className="word-ink" d="M10 40H70" />
      <path className="word-stick" d="M20 32v16M34 32v16M58 32v16" />
      <path className="word-line" d="M20 24H58M20 20v8M58 20v8" />
    </>
  ),
  weights: (
    <>
      <path className="word-line" d="M6 46L74 26" />
      {BAR(22, 22, 18)}
      {BAR(52, 32, 4)}
    </>
  ),
  scatter: (
    <>
      <path className="word-line" d="M6 32H74" />
      {BAR(16, 26, 9)}
      {BAR(32, 37, 9)}
      {BAR(48, 29, 9)}
      {BAR(64, 40, 9)}
    </>
  ),
  spare: (
    <>
      <path className="word-line" d="M6 50L74 14" />
      {POINT(16, 45)}
      {POINT(64, 19)}
      <circle cx="40" cy="24" r="3" className="word-spare" />
    </>
  ),
  apart: (
    <>
      <path className="word-ink" d="M8 22H40M8 18v8M40 18v8M34 42H72M34 38v8M72 38v8" />
      {POINT(24, 22)}
      {POINT(53, 42)}
      <path className="word-stick" d="M24 56H53M24 52v8M53 52v8" />
    </>
  ),
  middle: (
    <>
      <path className="word-ink" d="M6 44H74" />
      <path className="word-stick" d="M34 16v40" />
      {[12, 26, 34, 42, 70].map((x) => POINT(x, 44))}
    </>
  ),
};

export function WordPicture({ of }: { of: TradeWord['picture'] }) {
  return (
    <svg viewBox="0 0 80 62" width="80" height="62" aria-hidden="true" className="word-picture">
      {PICTURES[of]}
    </svg>
  );
}
