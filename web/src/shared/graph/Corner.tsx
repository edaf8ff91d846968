// Where the axes meet: to all points, to the origin, and to the motion that the graph is of.
interface Props {
  top: number;
  onFit: (() => void) | undefined;
  onOrigin: (() => void) | undefined;
  onPlay: (() => void) | undefined;
  isPlayed: boolean;
}

export function Corner({ top, onFit, onOrigin, onPlay, isPlayed }: Props) {
  return (
    <div className="graph-corner" style={{ top }}>
      {onFit && (
        <button type="button" title="Fit to the data (f)" onClick={onFit}>
          fit
        </button>
      )}
      {onOrigin && (
        <button type="button" title="Bring the origin in, or let it go (0)" onClick={onOrigin}>
          0
        </button>
      )}
      {onPlay && (
        <button type="button" title="Play it as the motion that it is of, or put that away" aria-expanded={isPlayed} onClick={onPlay}>
          play
        </button>
      )}
    </div>
  );
}
