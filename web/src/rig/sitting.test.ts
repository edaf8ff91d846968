import { beforeEach, describe, expect, it, vi } from 'vitest';
import { keepSitting, layOut, readSitting, secondsOf, withAct } from './sitting';

describe('a sitting at a rig', () => {
  const kept = new Map<string, string>();
  beforeEach(() => {
    kept.clear();
    vi.stubGlobal('sessionStorage', {
      getItem: (key: string) => kept.get(key) ?? null,
      setItem: (key: string, text: string) => kept.set(key, text),
      removeItem: (key: string) => kept.delete(key),
    });
  });

  it('counts from when the bench was laid out, and never back', () => {
    const laid = layOut(10_000);
    expect(secondsOf(laid, 12_500)).toBe(2.5);
    expect(secondsOf(laid, 9_000)).toBe(0);
    const rinsed = withAct(laid, 'rinse', '', 14_000);
    expect(rinsed.acts).toEqual([{ kind: 'rinse', value: '', at: 4 }]);
    expect(secondsOf(rinsed, 11_000)).toBe(4);
    expect(withAct(rinsed, 'zero', '', 11_000).acts.map((a) => a.at)).toEqual([4, 4]);
  });

  it('is there again after a reload, each lab book and rig by itself', () => {
    const sitting = withAct(layOut(0), 'rinse', '', 1_000);
    keepSitting(7, 'salt-in-pools', sitting);
    expect(readSitting(7, 'salt-in-pools', 5_000)).toEqual(sitting);
    expect(readSitting(8, 'salt-in-pools', 5_000).acts).toEqual([]);
    expect(readSitting(7, 'other', 5_000).begun).toBe(5_000);
  });

  it('begins anew where what is kept cannot be read', () => {
    for (const broken of ['{', '"x"', '{"hand": 1}', 'null']) {
      kept.set('hobrel:rig:7:salt', broken);
      expect(readSitting(7, 'salt', 3_000)).toMatchObject({ begun: 3_000, acts: [] });
    }
  });
});
