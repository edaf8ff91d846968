// Results on a common number line, each with its bar; an optional band for the class value.
import type { Schemas } from '@/shared/api/client';
import { Marker } from './marker';
import { NumberAxis } from './NumberAxis';
import { useWidth } from './useWidth';
import './number-line.css';

export interface LineMark {
  name: string;
  value: number;
  u: number;
  look?: number;
  tone?: 'plain' | 'accepted' | 'odd';
  note?: string;
}

const ROW = 34;
const NAMES = 112;
/** Pixels that a character of a name takes, about. */
const LETTER = 7.4;
const RIGHT = 18;

export function NumberLine({ line, marks, band }: { line: Schemas['NumberLine']; marks: LineMark[]; band?: { value: number; u: number } | null }) {
  const [box, width] = useWidth<HTMLDivElement>(560);
  // names take the room they need, up to a third of the width; longer ones are cut and heard in full
  const left = Math.min(width / 3, Math.max(NAMES, 20 + LETTER * Math.max(...marks.map((m) => m.name.length))));
  const most = Math.floor((left - 18) / LETTER);
  const short = (name: string) => (name.length > most ? `${name.slice(0, most - 1)}…` : name);
  const place = (v: number) => left + ((v - line.axis_low) / (line.axis_high - line.axis_low)) * (width - left - RIGHT);
  const bottom = 10 + marks.length * ROW;
  const summary = marks.map((m) => `${m.name}: ${m.note ?? ''}`).join('; ');
  return (
    <div ref={box} className="number-line">
      <svg width={width} height={bottom + 44} role="img" aria-label={summary}>
        {line.ticks.map(({ value }) => (
          <line key={value} className="number-line-rule" x1={place(value)} x2={place(value)} y1={4} y2={bottom} />
        ))}
        {band && (
          <rect
            className="number-line-band"
            x={place(band.value - band.u)}
            width={Math.max(2, place(band.value + band.u) - place(band.value - band.u))}
            y={4}
            height={bottom - 4}
          />
        )}
        {marks.map((m, i) => {
          const y = 10 + i * ROW + ROW / 2;
          const [at, a, b] = [place(m.value), place(m.value - m.u), place(m.value + m.u)];
          const isBeyond = m.value < line.axis_low || m.value > line.axis_high;
          return (
            <g key={m.name} data-light={m.name} className={`number-line-mark ${m.tone ?? 'plain'}`}>
              <text x={left - 14} y={y + 5} textAnchor="end">
                <title>{m.name}</title>
                {short(m.name)}
              </text>
              {isBeyond ? (
                <Beyond note={m.note ?? ''} tip={at < left ? left : width - RIGHT} step={at < left ? 1 : -1} y={y} />
              ) : (
                <>
                  <path d={`M${a} ${y}H${b}M${a} ${y - 5}V${y + 5}M${b} ${y - 5}V${y + 5}`} />
                  {m.tone === 'accepted' ? <path d={`M${at} ${y - 8}V${y + 8}`} strokeDasharray="none" /> : <Marker x={at} y={y} look={m.look ?? 0} size={5} />}
                </>
              )}
            </g>
          );
        })}
        <NumberAxis line={line} place={place} from={left} to={width - RIGHT} y={bottom} />
      </svg>
    </div>
  );
}

/** Where one is so far off that it would flatten the others: an arrow at the edge, with its value; `step` leads inwards. */
function Beyond({ note, tip, step, y }: { note: string; tip: number; step: 1 | -1; y: number }) {
  return (
    <>
      <path d={`M${tip + step * 22} ${y}H${tip}M${tip + step * 7} ${y - 5}L${tip} ${y}L${tip + step * 7} ${y + 5}`} />
      <text x={tip + step * 30} y={y + 5} textAnchor={step > 0 ? 'start' : 'end'}>
        {note}
      </text>
    </>
  );
}
