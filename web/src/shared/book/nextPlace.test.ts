import { describe, expect, it } from 'vitest';
import type { Quantity } from '@/shared/api/client';
import type { Row } from '@/shared/book/rows';
import { namePlace, nextPlace, writeAt } from './nextPlace';

const kappa = { id: 'k', symbol: 'κ', repeats: 2 } as Quantity;
const row = (id: string, texts: (string | null)[], setAside: string | null = null): Row => ({
  id,
  setAside,
  readings: { k: texts.map((text) => (text === null ? null : { text, set_aside: null })) },
});

describe('where a reading is written down', () => {
  const rows = [row('a', ['1.2', null]), row('b', [null, null]), row('c', [])];

  it('is the first blank of its quantity, row by row', () => {
    const place = nextPlace(rows, kappa, '');
    expect([place.row.id, place.repeat, namePlace(place, kappa)]).toEqual(['a', 1, 'setting 1, repeat 2']);
  });

  it('is the blank that one has come to', () => {
    expect(nextPlace(rows, kappa, 'b:k:1')).toMatchObject({ number: 2, repeat: 1 });
    // one that is written already is not written over
    expect(nextPlace(rows, kappa, 'a:k:0')).toMatchObject({ number: 1, repeat: 1 });
    expect(nextPlace(rows, kappa, 'b:m:0')).toMatchObject({ number: 1, repeat: 1 });
  });

  it('passes by what is set aside, and goes on below', () => {
    const full = [row('a', ['1', '2']), row('b', [null, null], 'spilt')];
    const place = nextPlace(full, kappa, '');
    expect(place).toMatchObject({ number: 3, repeat: 0 });
    expect(writeAt('r', full, kappa, place, '1.87')).toMatchObject({
      type: 'batch',
      edits: [
        { type: 'add_setting', setting: place.row.id },
        { type: 'set_reading', setting: place.row.id, quantity: 'k', repeat: 0, text: '1.87', was: '' },
      ],
    });
  });
});
