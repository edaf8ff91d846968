// Per setting a strip: the repeats as ticks, the mean and its ±, all to one scale, so that a wide one stands out.
import type { ColumnResult, Setting } from '@/shared/api/client';
import { useDecimalMark } from '@/shared/book/context';
import { type DecimalMark, withMark } from '@/shared/book/decimalMark';
import { NumberLink } from '@/shared/ui/Number';
import { Rich } from '@/shared/ui/Rich';
import { tidyUnit } from '@/shared/ui/withUnit';

const W = 420;
const H = 26;
const MADE = { spread: 'from the spread', instrument: 'from the instrument', both: 'from both', propagated: '' } as const;

/** The changed quantity as it was written down, not rounded again. */
function writtenOf(setting: Setting, changed: ColumnResult, i: number, mark: DecimalMark): string {
  const entries = setting.readings?.[changed.quantity] ?? [];
  return entries.length === 1 && entries[0] ? withMark(entries[0].text, mark) : (changed.cells[i]?.value_text ?? '');
}

export function Strips({ column, changed, run, settings }: { column: ColumnResult; changed: ColumnResult | undefined; run: string; settings: Setting[] }) {
  const mark = useDecimalMark();
  // a reading that is set aside does not make the scale: beyond it an arrow at the edge says where it lies
  const isAside = (i: number, k: number) => Boolean(settings[i]?.readings?.[column.quantity]?.[k]?.set_aside);
  const reach = Math.max(
    1e-300,
    ...column.cells.flatMap((c, i) => {
      const mean = c.value ?? null;
      return mean === null ? [] : [...c.repeats.map((r, k) => (r === null || isAside(i, k) ? 0 : Math.abs(r - mean))), c.u ?? 0];
    }),
  );
  return (
    <table className="strips">
      <thead>
        <tr>
          {changed && (
            <th scope="col">
              <Rich text={changed.symbol} />
              {changed.unit && ` / ${tidyUnit(changed.unit)}`}
            </th>
          )}
          <th scope="col">repeats, mean and ±, to one scale</th>
          <th scope="col">mean ± </th>
          <th scope="col" className="strips-made">
            ± comes
          </th>
        </tr>
      </thead>
      <tbody>
        {column.cells.map((cell, i) => {
          const setting = settings[i];
          if (!setting || cell.value === null || cell.value === undefined) return null;
          const mean = cell.value;
          const x = (v: number) => W / 2 + ((v - mean) / reach) * (W / 2 - 12);
          const wide = cell.wide;
          const entries = setting.readings?.[column.quantity] ?? [];
          return (
            <tr key={setting.id} className={setting.set_aside ? 'set-aside' : ''}>
              {changed && <td className={changed.unit || changed.range_text ? 'mono' : ''}>{writtenOf(setting, changed, i, mark)}</td>}
              <td>
                <svg viewBox={`0 0 ${W} ${H}`} className="strip" role="img" aria-label={`Repeats ${entries.map((e) => e?.text ?? 'blank').join('; ')}`}>
                  <line x1="4" x2={W - 4} y1={H / 2} y2={H / 2} stroke="var(--rule)" />
                  <rect
                    x={x(mean - (cell.u ?? 0))}
                    width={Math.max(1, x(mean + (cell.u ?? 0)) - x(mean - (cell.u ?? 0)))}
                    y="6"
                    height={H - 12}
                    fill={wide ? 'var(--saffron)' : 'var(--plum)'}
                    opacity="0.16"
                  />
                  {cell.repeats.map((r, k) =>
                    r === null ? null : isAside(i, k) && Math.abs(r - mean) > reach ? (
                      <path
                        key={k}
                        data-light={`${setting.id}:${column.quantity}:${k}`}
                        className="strip-beyond"
                        transform={`translate(${r > mean ? W - 4 : 4} ${H / 2}) scale(${r > mean ? 1 : -1} 1)`}
                        d="M-8 -6L0 0L-8 6"
                      />
                    ) : (
                      <line
                        key={k}
                        data-light={`${setting.id}:${column.quantity}:${k}`}
                        className="strip-tick"
                        x1={x(r)}
                        x2={x(r)}
                        y1="5"
                        y2={H - 5}
                        stroke={isAside(i, k) ? 'var(--edge)' : 'var(--ink)'}
                        strokeWidth="1.6"
                        strokeDasharray={isAside(i, k) ? '2 2' : undefined}
                      />
                    ),
                  )}
                  <circle cx={x(mean)} cy={H / 2} r="4" fill={wide ? 'var(--saffron)' : 'var(--plum)'} />
                </svg>
              </td>
              <td className="mono strips-value">
                <NumberLink of={`cell:${run}:${setting.id}:${column.quantity}`}>
                  {cell.value_text}
                  {cell.u_text && <span className="quiet"> ± {cell.u_text}</span>}
                </NumberLink>
              </td>
              <td className="quiet strips-made">
                {cell.made_by ? MADE[cell.made_by] : ''}
                {cell.set_aside ? `, ${cell.set_aside} set aside` : ''}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
