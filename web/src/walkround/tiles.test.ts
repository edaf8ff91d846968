import { describe, expect, it } from 'vitest';
import { addressOf, byNeed, countOf, moveTo, neighbour, placesOf, sinceWords, type Need, type Tile } from './tiles';

const need = (kind: Need): Tile['needs'][number] => ({ kind, text: '', stage: 'read', run: '', at: '' });
const tile = (bench_id: number, ...kinds: Need[]): Tile => ({ bench_id, book: bench_id, bench: `b${bench_id}`, needs: kinds.map(need) }) as unknown as Tile;
const TILES = [tile(1), tile(2, 'handed_in'), tile(3, 'slip', 'stuck'), tile(4, 'hand'), tile(5, 'slip'), tile(6, 'not_opened')];

describe('tiles', () => {
  it('come in order of need, of equal need as they were', () => {
    expect(byNeed(TILES, 'all').map((t) => t.bench_id)).toEqual([4, 3, 5, 6, 2, 1]);
  });
  it('are filtered and counted', () => {
    expect(byNeed(TILES, 'help').map((t) => t.bench_id)).toEqual([4, 3, 5]);
    expect(countOf(TILES, 'hands')).toBe(1);
    expect(countOf(TILES, 'handed_in')).toBe(1);
    expect(countOf(TILES, 'all')).toBe(6);
  });
});

describe('the room', () => {
  it('has those behind that nobody has placed', () => {
    const places = placesOf(TILES, { 3: [2, 1], 4: [2, 1] });
    expect(places.get(3)).toEqual([2, 1]);
    // two in one place: the second has none
    expect(places.get(1)).toEqual([0, 2]);
    expect(places.get(4)).toEqual([2, 2]);
    expect(new Set([...places.values()].map(String)).size).toBe(6);
  });
  it('lets two change places, and nobody out', () => {
    const places = placesOf(TILES, {});
    const room = moveTo(places, 1, [1, 0]);
    expect(room[1]).toEqual([1, 0]);
    expect(room[2]).toEqual([0, 0]);
    expect(moveTo(places, 1, [-1, 0])[1]).toEqual([0, 0]);
    expect(moveTo(places, 1, [8, 0])[1]).toEqual([0, 0]);
    expect(moveTo(places, 1, [7, 0])[1]).toEqual([7, 0]);
  });
  it('is walked by arrow keys to the nearest tile that way', () => {
    const boxes = [0, 1, 2, 3].map((i) => ({ x: (i % 2) * 100, y: Math.floor(i / 2) * 80 }) as DOMRect);
    expect(neighbour(boxes, 0, 'ArrowRight')).toBe(1);
    expect(neighbour(boxes, 0, 'ArrowDown')).toBe(2);
    expect(neighbour(boxes, 3, 'ArrowUp')).toBe(1);
    expect(neighbour(boxes, 0, 'ArrowLeft')).toBe(0);
  });
});

describe('words and addresses', () => {
  it.each([
    [null, ''],
    [0, 'just now'],
    [1, '1 min ago'],
    [119, '119 min ago'],
    [120, '2 h ago'],
    [2879, '47 h ago'],
    [2880, '2 days ago'],
  ])('%s minutes', (minutes, words) => expect(sinceWords(minutes)).toBe(words));
  it('lead to the cell of a slip, in its run', () => {
    expect(addressOf(7, { ...need('slip'), run: 'r2', at: 's1:t:0' })).toBe('/books/7/read?run=r2&at=s1%3At%3A0');
    expect(addressOf(7, { ...need('factor'), stage: 'find' })).toBe('/books/7/find');
    expect(addressOf(7, undefined)).toBe('/books/7');
  });
});
