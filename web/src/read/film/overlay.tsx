// What was pointed at, drawn over a frame. Everything is an attribute, so that the same drawing can be laid on a picture that is kept.
import { type Place, type Work, directionsOf } from './marks';
import { withUnit } from '@/shared/ui/withUnit';

// seen on dark and on light, whatever the page's colours are
export const INK = '#2B2233';
export const LIGHT = '#FFFFFF';
const LENGTH = '#0072B2';
const AXIS = '#8A1C5E';
const COLOURS = ['#C4500A', '#00795C', '#5B2A5E', '#7A5C00', '#0060A0', '#9E2A6B'];

export const colourOf = (index: number) => COLOURS[index % COLOURS.length] ?? INK;

interface Props {
  work: Work;
  width: number;
  height: number;
  /** Pixels of the film in one of the screen. */
  scale: number;
  /** Marks that are shown: of this frame and of the others, seen this often before. */
  frame: number;
  turn: number;
  at: Place | null;
  /** Where a model goes, and where it is now. */
  model: { way: readonly Place[]; now: Place | null } | null;
}

function Line({ a, b, colour, scale, width = 1.6 }: { a: Place; b: Place; colour: string; scale: number; width?: number }) {
  const ends = { x1: a.x, y1: a.y, x2: b.x, y2: b.y };
  return (
    <>
      <line {...ends} stroke={LIGHT} strokeOpacity={0.8} strokeWidth={(width + 2) * scale} />
      <line {...ends} stroke={colour} strokeWidth={width * scale} />
    </>
  );
}

function Words({ x, y, scale, colour, children }: { x: number; y: number; scale: number; colour: string; children: string }) {
  const look = { x, y, fontSize: 13 * scale, fontFamily: 'sans-serif', fontWeight: 600 };
  return (
    <text {...look} fill={colour} stroke={LIGHT} strokeWidth={3 * scale} strokeLinejoin="round" paintOrder="stroke">
      {children}
    </text>
  );
}

function AxesDrawn({ work, width, height, scale }: Pick<Props, 'work' | 'width' | 'height' | 'scale'>) {
  const { origin } = work;
  if (!origin) return null;
  const ways = directionsOf(work);
  const reach = 0.16 * Math.min(width, height);
  const tip = (to: Place, far: number) => ({ x: origin.x + to.x * far, y: origin.y + to.y * far });
  return (
    <>
      {[ways.x, ways.y].map((to, i) => (
        <g key={i}>
          <Line a={origin} b={tip(to, reach)} colour={AXIS} scale={scale} />
          <Words {...tip(to, reach + 8 * scale)} scale={scale} colour={AXIS}>
            {i ? 'y' : 'x'}
          </Words>
        </g>
      ))}
      <circle cx={origin.x} cy={origin.y} r={3.5 * scale} fill={AXIS} stroke={LIGHT} strokeWidth={scale} />
    </>
  );
}

/** A cross with an open middle, so that what it is on stays in sight. */
function Cross({ at, colour, scale, size = 9 }: { at: Place; colour: string; scale: number; size?: number }) {
  const arms = [
    [1, 0],
    [-1, 0],
    [0, 1],
    [0, -1],
  ] as const;
  return (
    <g>
      {arms.map(([x, y]) => (
        <Line
          key={`${x} ${y}`}
          a={{ x: at.x + 3 * x * scale, y: at.y + 3 * y * scale }}
          b={{ x: at.x + size * x * scale, y: at.y + size * y * scale }}
          colour={colour}
          scale={scale}
          width={1.3}
        />
      ))}
    </g>
  );
}

export function Overlay({ work, width, height, scale, frame, turn, at, model }: Props) {
  const [a, b] = work.ends;
  return (
    <>
      {a && b && <Line a={a} b={b} colour={LENGTH} scale={scale} />}
      {work.ends.map((end, i) => (
        <circle key={i} cx={end.x} cy={end.y} r={4 * scale} fill="none" stroke={LENGTH} strokeWidth={1.6 * scale} />
      ))}
      {a && b && work.length && (
        <Words x={(a.x + b.x) / 2 + 8 * scale} y={(a.y + b.y) / 2} scale={scale} colour={LENGTH}>
          {withUnit(work.length, work.unit)}
        </Words>
      )}
      <AxesDrawn work={work} width={width} height={height} scale={scale} />
      {work.drawn.map((drawn) => (
        <g key={drawn.id}>
          {drawn.places.map((place, i) => {
            const next = drawn.places[i + 1] ?? (drawn.kind === 'area' ? drawn.places[0] : undefined);
            return (
              <g key={i}>
                {next && <Line a={place} b={next} colour={INK} scale={scale} />}
                <circle cx={place.x} cy={place.y} r={3 * scale} fill={LIGHT} stroke={INK} strokeWidth={1.4 * scale} />
              </g>
            );
          })}
        </g>
      ))}
      {work.things.map((thing, i) => (
        <g key={thing.id}>
          {thing.pivot && (
            <rect
              x={thing.pivot.x - 3 * scale}
              y={thing.pivot.y - 3 * scale}
              width={6 * scale}
              height={6 * scale}
              fill={colourOf(i)}
              stroke={LIGHT}
              strokeWidth={scale}
            />
          )}
          {work.marks
            .filter((m) => m.thing === thing.id && m.turn === turn)
            .map((m) =>
              m.frame === frame ? (
                <Cross key={m.frame} at={m.place} colour={colourOf(i)} scale={scale} />
              ) : (
                <circle
                  key={m.frame}
                  cx={m.place.x}
                  cy={m.place.y}
                  r={2.6 * scale}
                  fill={colourOf(i)}
                  fillOpacity={0.75}
                  stroke={LIGHT}
                  strokeWidth={0.8 * scale}
                />
              ),
            )}
        </g>
      ))}
      {model && (
        <g className="film-model">
          <polyline
            points={model.way.map(({ x, y }) => `${x},${y}`).join(' ')}
            fill="none"
            stroke={INK}
            strokeWidth={1.2 * scale}
            strokeDasharray={`${2 * scale} ${4 * scale}`}
          />
          {model.now && (
            <circle
              cx={model.now.x}
              cy={model.now.y}
              r={11 * scale}
              fill="none"
              stroke={INK}
              strokeWidth={1.8 * scale}
              strokeDasharray={`${4 * scale} ${3 * scale}`}
            />
          )}
        </g>
      )}
      {at && <Cross at={at} colour={INK} scale={scale} size={14} />}
    </>
  );
}
