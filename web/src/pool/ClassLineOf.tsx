// The benches of a pool on a number line; as dots where they are very many.
import type { Schemas } from '@/shared/api/client';
import { type LineMark, NumberLine } from '@/shared/graph/NumberLine';
import { told } from '@/shared/ui/told';
import { DotLine } from './DotLine';

/** From so many benches on each is a dot. */
const MANY = 24;
/** More than can be told apart by shape are alike. */
const TOLD_APART = 8;

/** `nameOf` says what a bench is called here; with `quietly` nobody is marked as off. */
export function ClassLineOf({ pool: p, nameOf, quietly = false }: { pool: Schemas['PoolResult']; nameOf?: (bench: string) => string; quietly?: boolean }) {
  const quoted = p.values.find((v) => v.recommended);
  const marks: LineMark[] = p.rows
    .filter((r) => r.value)
    .map((r) => ({
      name: nameOf?.(r.bench) ?? r.bench,
      value: r.value?.value ?? 0,
      u: r.value?.u ?? 0,
      look: p.rows.length > TOLD_APART ? 0 : r.look,
      tone: r.pointed_out.length > 0 && !quietly ? 'odd' : 'plain',
      note: r.value?.text ?? '',
    }));
  if (p.accepted) marks.push({ name: 'accepted', value: p.accepted.value, u: p.accepted.u ?? 0, look: 6, tone: 'accepted', note: p.accepted.text });
  const band = quoted ? { value: quoted.value.value, u: quoted.value.u ?? 0 } : null;
  if (!p.number_line) return <p className="notice">{told(p.reason)}</p>;
  return marks.length > MANY ? <DotLine line={p.number_line} marks={marks} band={band} /> : <NumberLine line={p.number_line} marks={marks} band={band} />;
}
