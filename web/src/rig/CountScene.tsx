// A weak source, sheets before it, and a counter whose lamp winks as it counts.
import { useRef } from 'react';
import type { SceneProps } from './scenes';
import { useFrames } from '@/shared/ui/useFrames';

export function CountScene({ scene, shown, elapsed }: SceneProps) {
  const lamp = useRef<SVGCircleElement>(null);
  const rate = Number(scene['rate'] ?? '0');
  const sheets = Number(scene['sheets'] ?? '0');
  useFrames(`${rate} ${sheets}`, () => {
    // a wink about as often as it counts, as far as an eye can tell
    const lit = rate > 0 && Math.sin(elapsed() * Math.min(rate, 24) * 6.28) > 0.4;
    lamp.current?.setAttribute('class', lit ? 'count-lamp lit' : 'count-lamp');
    return rate > 0;
  });
  return (
    <svg className="scene" viewBox="0 20 600 172" aria-hidden="true">
      <path className="scene-bench" d="M30 178H570" />
      <path className="scene-part" d="M70 178V150H470V178Z" />
      {Array.from({ length: 9 }, (_, i) => (
        <path key={i} className="scene-line" d={`M${206 + 18 * i} 150v6`} />
      ))}
      <path className="scene-part" d="M96 150V84H150V150Z" />
      {scene['source'] ? <path className="count-source" d="M132 106h22v22h-22Z" /> : <path className="scene-line" d="M136 110l14 14m0 -14l-14 14" />}
      <text className="scene-label" x="123" y="100" textAnchor="middle">
        source
      </text>
      {Array.from({ length: sheets }, (_, i) => (
        <path key={i} className="count-sheet" d={`M${210 + 18 * i} 150V70h8V150Z`} />
      ))}
      <path className="scene-part" d="M372 96H440V138H372ZM440 108h18v18h-18Z" />
      <path className="scene-line" d="M372 96V138" />
      <path className="scene-cable" d="M458 117C490 117 480 90 500 90" />
      <path className="scene-part" d="M484 178V74H562V178Z" />
      <rect className="scene-glass" x="490" y="86" width="66" height="26" rx="2" />
      <text className="scene-digits fan-digits" x="552" y="105" textAnchor="end">
        {shown('counter')}
      </text>
      <circle ref={lamp} className="count-lamp" cx="523" cy="134" r="7" />
    </svg>
  );
}
