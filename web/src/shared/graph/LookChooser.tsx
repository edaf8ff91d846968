// Colour and shape of a series, chosen for all graphs of the lab book.
import { usePopover } from '@/shared/ui/usePopover';
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
  const { open, opener, close, toggle, around } = usePopover();
  const choose = (next: number | null) => {
    onChoose(next);
    close();
  };
  return (
    <span className="look-chooser" {...around}>
      <button
        ref={opener}
        type="button"
        aria-expanded={open}
        aria-label={`Colour and shape of ${name}`}
        title="Colour and shape, in all graphs"
        onClick={toggle}
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
