import { describe, expect, it } from 'vitest';
import type { Edit, Quantity } from '@/shared/api/client';
import type { QueueRow } from '@/shared/queue/rows';
import { headingDrafts, headingOf } from './headings';
import { widthsOf } from './widths';

const heading = (quantity: string, text: string, run = 'run1'): Edit => ({ type: 'write_heading', run, quantity, text, was: '', graph: 'g', fit: 'f' });
const refused = (id: string, edit: Edit, words: string): QueueRow => ({
  n: 1,
  person: 1,
  book: 1,
  id,
  version: 1,
  edit,
  state: 'refused',
  words,
  code: 'bad_unit',
  theirs: null,
});

describe('headings on their way', () => {
  it('are one for each quantity, as it was typed last, of this table alone', () => {
    const waiting = [
      { id: 'a', edit: heading('q1', 't') },
      { id: 'b', edit: heading('q2', 'x', 'run2') },
      { id: 'c', edit: heading('q1', 't / s') },
    ];
    expect(headingDrafts('run1', waiting, [])).toEqual([{ quantity: 'q1', text: 't / s', trouble: '' }]);
    expect(headingDrafts('run2', waiting, [])).toHaveLength(1);
  });

  it('say why they were refused', () => {
    const edit = heading('q1', 't / wobbles');
    const [draft] = headingDrafts('run1', [{ id: 'a', edit }], [refused('a', edit, 'no such unit')]);
    expect(draft?.trouble).toBe('no such unit');
  });

  it('read back as what they were made from', () => {
    expect(headingOf({ name: 'time', symbol: 't', unit: 's', holds: 'numbers' })).toBe('time t / s');
    expect(headingOf({ name: 'x', symbol: 'x', unit: '', holds: 'numbers' })).toBe('x');
    expect(headingOf({ name: 'colour', symbol: 'c', unit: 'm', holds: 'words' })).toBe('colour (words)');
  });
});

describe('widths of columns', () => {
  const quantity = (id: string, repeats: number) => ({ id, repeats }) as Quantity;
  const row = (texts: (string | null)[]) => ({
    id: 's',
    setAside: null,
    readings: { T: texts.map((text) => (text === null ? null : { text, set_aside: null })) },
  });

  it('grow with the longest reading and with its repeats, and only then', () => {
    expect(widthsOf([quantity('T', 1)], [row(['1.20'])]).size).toBe(0);
    const once = widthsOf([quantity('T', 1)], [row(['1.20']), row([null, '0.40 ± 0.01'])]).get('T') ?? 0;
    const twice = widthsOf([quantity('T', 2)], [row(['0.40 ± 0.01'])]).get('T') ?? 0;
    expect(once).toBeGreaterThan(100);
    expect(twice).toBeCloseTo(2 * once, -1);
  });
});
