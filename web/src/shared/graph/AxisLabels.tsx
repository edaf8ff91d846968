// The labels of the axes as buttons: pressing one offers the quantities that can stand there.
import { useEffect, useRef, useState } from 'react';
import type { Schemas } from '@/shared/api/client';
import { plain } from '@/shared/ui/Rich';
import { Typeset } from '@/shared/ui/Typeset';
import { type Plot, titleOf, widthOf } from './plot';

type Axis = Schemas['Axis'];
type Which = 'x' | 'y';

export interface AxisChoices {
  options: { value: string; label: string }[];
  chosen: Record<Which, string>;
  onChoose: (axis: Which, quantity: string) => void;
}

export function AxisLabels({ choices, xAxis, yAxis, plot }: { choices: AxisChoices; xAxis: Axis; yAxis: Axis; plot: Plot }) {
  const [open, setOpen] = useState<Which | null>(null);
  const menu = useRef<HTMLUListElement>(null);
  useEffect(() => {
    const list = menu.current;
    (list?.querySelector<HTMLButtonElement>('[aria-checked="true"]') ?? list?.querySelector('button'))?.focus();
  }, [open]);
  const middle = (plot.top + plot.bottom) / 2;
  const [wide, high] = [Math.max(100, widthOf(titleOf(xAxis, plot.right - plot.left))), Math.max(120, widthOf(titleOf(yAxis, plot.bottom - plot.top)))];
  const places = {
    x: { left: plot.right - wide, top: plot.bottom + 26, width: wide + 4, height: 26 },
    y: { left: 2, top: middle - high / 2, width: 26, height: high },
  };
  return (
    <>
      {(['x', 'y'] as const).map((axis) => (
        <button
          key={axis}
          type="button"
          className="graph-axis-label"
          style={places[axis]}
          aria-haspopup="menu"
          aria-expanded={open === axis}
          aria-label={`${plain((axis === 'x' ? xAxis : yAxis).label)} along ${axis}: put another quantity there`}
          title="Put another quantity on this axis"
          onClick={() => setOpen(open === axis ? null : axis)}
        />
      ))}
      {open && (
        <ul
          ref={menu}
          role="menu"
          className={`graph-axis-menu of-${open}`}
          style={{ top: open === 'x' ? plot.bottom + 54 : middle - 60 }}
          onKeyDown={(e) => {
            if (e.key === 'Escape') setOpen(null);
            const step = { ArrowDown: 1, ArrowUp: -1 }[e.key];
            if (step === undefined) return;
            e.preventDefault();
            const all = [...e.currentTarget.querySelectorAll('button')];
            all[(all.indexOf(document.activeElement as HTMLButtonElement) + step + all.length) % all.length]?.focus();
          }}
          onBlur={(e) => {
            if (!e.currentTarget.contains(e.relatedTarget)) setOpen(null);
          }}
        >
          {choices.options.map((o) => (
            <li key={o.value} role="none">
              <button
                type="button"
                role="menuitemradio"
                aria-checked={choices.chosen[open] === o.value}
                onClick={() => {
                  choices.onChoose(open, o.value);
                  setOpen(null);
                }}
              >
                <Typeset text={o.label} />
              </button>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
