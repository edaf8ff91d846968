// Where the axes meet: to all points, and to the origin.
export function Corner({ top, onFit, onOrigin }: { top: number; onFit: () => void; onOrigin: (() => void) | undefined }) {
  return (
    <div className="graph-corner" style={{ top }}>
      <button type="button" title="Fit to the data (f)" onClick={onFit}>
        fit
      </button>
      {onOrigin && (
        <button type="button" title="Bring the origin in, or let it go (0)" onClick={onOrigin}>
          0
        </button>
      )}
    </div>
  );
}
