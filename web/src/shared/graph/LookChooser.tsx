// Colour and shape of a series, chosen for all graphs of the lab book.
import { useRef, useState } from 'react';
import { Marker, looks } from './marker';

interface Props {
  name: string;
  look: number;
  onChoose: (look: number | null) => void;
}

export function Swatch({ look }: { look: number }) {
  return (
    <svg width="18" height="14" aria-hidden="true">
      <Marker x={9} y={7} look={look} size={4} />
    </svg>
  );
}

export function LookChooser({ name, look, onChoose }: Props) {
  const [open, setOpen] = useState(false);
  const opener = useRef<HTMLButtonElement>(null);
  const choose = (next: number | null) => {
    onChoose(next);
    setOpen(false);
    opener.current?.focus();
  };
  return (
    <span
      className="look-chooser"
      onBlur={(e) => {
        if (!e.currentTarget.contains(e.relatedTarget)) setOpen(false);
      }}
      onKeyDown={(e) => {
        if (e.key !== 'Escape' || !open) return;
        e.stopPropagation();
        setOpen(false);
        opener.current?.focus();
      }}
    >
      <button
        ref={opener}
        type="button"
        aria-expanded={open}
        aria-label={`Colour and shape of ${name}`}
        title="Colour and shape, in all graphs"
        onClick={() => setOpen(!open)}
      >
        <Swatch look={look} />
      </button>
      {open && (
        <span className="look-list" role="group" aria-label={`Colours and shapes for ${name}`}>
          {looks.map((words, i) => (
            <button key={words} type="button" aria-label={words} title={words} aria-pressed={i === look % looks.length} onClick={() => choose(i)}>
              <Swatch look={i} />
            </button>
          ))}
          <button type="button" onClick={() => choose(null)}>
            as it comes
          </button>
        </span>
      )}
    </span>
  );
}
