import { beforeEach, describe, expect, it, vi } from 'vitest';
import description from '../../../openapi.json';
import { begin, findLong, underway, watch, wordsFor } from './underway';

describe('work underway', () => {
  beforeEach(() => {
    vi.useFakeTimers({ toFake: ['performance'] });
  });

  it('is said after half a second, with its seconds from the second on', () => {
    const work = [{ words: 'Handing in', since: 1000 }];
    expect([1499, 1500, 2999, 3000, 9400].map((now) => findLong(work, now)?.seconds)).toEqual([undefined, null, null, 2, 8]);
    expect(findLong(work, 1500)?.words).toBe('Handing in');
    expect(findLong([], 1e6)).toBeNull();
  });

  it('is that which has gone on longest', () => {
    expect(
      findLong(
        [
          { words: 'late', since: 800 },
          { words: 'early', since: 100 },
        ],
        900,
      )?.words,
    ).toBe('early');
  });

  it('ends once, whoever says so twice, and watchers hear of both ends', () => {
    const heard = vi.fn();
    const stop = watch(heard);
    const [end, other] = [begin('one'), begin('two')];
    end();
    end();
    expect(underway().map((w) => w.words)).toEqual(['two']);
    other();
    expect(underway()).toEqual([]);
    expect(heard).toHaveBeenCalledTimes(5);
    stop();
    begin('three')();
    expect(heard).toHaveBeenCalledTimes(5);
  });

  it('has no words for what nobody waits for', () => {
    expect(wordsFor('GET', '/api/books/{book_id}/changes')).toBe('');
    begin('')();
    expect(underway()).toEqual([]);
  });

  it('knows only ways that there are', () => {
    const ways = Object.entries(description.paths).flatMap(([path, methods]) => Object.keys(methods).map((m) => `${m.toUpperCase()} ${path}`));
    const said = ways.filter((way) => wordsFor(way.slice(0, way.indexOf(' ')), way.slice(way.indexOf(' ') + 1)));
    expect(said.length).toBe(26);
  });
});
