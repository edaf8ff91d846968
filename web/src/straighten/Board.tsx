// The board: forms of y down the side, forms of x along the top, a tiny graph with the signs of its residuals in each square. It begins with
// three by three; verdicts are kept back until somebody has judged a plot, or does not want to.
import type { Schemas } from '@/shared/api/client';
import { Rich, plain } from '@/shared/ui/Rich';

export interface Pair {
  x_form: string;
  y_form: string;
}

type Square = Schemas['BoardSquare'];

const W = 64;
const H = 40;
/** As many signs stand in a square at their own width; more are drawn narrower. */
const WIDE_SIGNS = 12;
/** Forms that are seen at first. */
const FIRST = ['v', 'v^2', 'sqrt(v)'];
const VERDICTS = { straight: 'straight within its bars', bends: 'still bends', unclear: 'too few points to say' } as const;

export function samePair(a: Pair, b: Pair): boolean {
  return a.x_form === b.x_form && a.y_form === b.y_form;
}

interface Props {
  board: Schemas['Board'];
  large: Pair[];
  /** All forms, or three by three. */
  all: boolean;
  /** Whether the verdicts are seen. */
  told: boolean;
  onChoose: (pair: Pair) => void;
}

export function Board({ board, large, all, told, onChoose }: Props) {
  const heads = (of: Schemas['FormHead'][]) => of.filter((head) => all || FIRST.includes(head.form));
  const nameOf = (of: Schemas['FormHead'][], form: string) => plain(of.find((head) => head.form === form)?.symbol ?? []);
  const find = (x: string, y: string) => board.squares.find((s) => s.x_form === x && s.y_form === y);
  return (
    <div className="board-scroll">
      <table className="board">
        <thead>
          <tr>
            <td />
            {heads(board.x_heads).map((head) => (
              <th key={head.form} scope="col">
                <Rich text={head.symbol} />
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {heads(board.y_heads).map((head) => (
            <tr key={head.form}>
              <th scope="row">
                <Rich text={head.symbol} />
              </th>
              {heads(board.x_heads).map((along) => {
                const square = find(along.form, head.form);
                return (
                  <td key={along.form}>
                    {square && (
                      <Tiny
                        square={square}
                        name={`${nameOf(board.y_heads, square.y_form)} against ${nameOf(board.x_heads, square.x_form)}`}
                        told={told}
                        chosen={large.some((p) => samePair(p, square))}
                        onChoose={onChoose}
                      />
                    )}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="quiet board-legend">
        {told && (
          <>
            <span className="board-key straight">straight within its bars</span> <span className="board-key bends">still bends</span>{' '}
          </>
        )}
        {told && board.expected.length > 0 && <span>★ straight if the expected relation holds</span>}
      </p>
    </div>
  );
}

function Tiny({ square, name, told, chosen, onChoose }: { square: Square; name: string; told: boolean; chosen: boolean; onChoose: (pair: Pair) => void }) {
  const s = told ? square : { ...square, verdict: null, curvature_t: '', reduced_chi2: '', expected: false };
  const x = (v: number) => 4 + v * (W - 8);
  const y = (v: number) => H - 5 - v * (H - 10);
  const words = [
    s.verdict ? VERDICTS[s.verdict] : '',
    s.curvature_t ? `curvature t = ${s.curvature_t}` : '',
    s.reduced_chi2 ? `χ²ν = ${s.reduced_chi2}` : '',
    s.expected ? 'the relation makes it straight' : '',
  ]
    .filter(Boolean)
    .join('; ');
  return (
    <button
      type="button"
      className={`board-square ${s.verdict ?? 'unjudged'}${chosen ? ' chosen' : ''}`}
      aria-pressed={chosen}
      aria-label={`${name}. ${words}`}
      title={words}
      onClick={() => onChoose({ x_form: s.x_form, y_form: s.y_form })}
    >
      <svg viewBox={`0 0 ${W} ${H}`} aria-hidden="true">
        <line x1={x(0)} x2={x(1)} y1={y(s.line_from)} y2={y(s.line_to)} />
        {s.dots.map((dot, i) => (
          <circle key={i} cx={x(dot.x)} cy={y(dot.y)} r="1.7" />
        ))}
      </svg>
      <span className={`board-signs${s.signs.length > WIDE_SIGNS ? ' many' : ''}`} aria-hidden="true">
        {s.signs}
      </span>
      {s.expected && (
        <span className="board-star" aria-hidden="true">
          ★
        </span>
      )}
    </button>
  );
}
