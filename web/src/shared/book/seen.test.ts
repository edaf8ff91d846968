import { describe, expect, it } from 'vitest';
import type { StageMark } from '@/shared/api/client';
import { seenMarks } from './seen';

const mark = (stage: StageMark['stage'], state: StageMark['state'], text: string): StageMark => ({
  stage,
  state,
  slips: 0,
  words: [{ code: 'said', text, fields: {} }],
});
const marks = [
  mark('read', 'done', '8 settings'),
  mark('look', 'done', '1 graph'),
  mark('straighten', 'in_progress', 'still bends'),
  mark('fit', 'done', 'line fitted'),
  mark('find', 'not_opened', 'no finding yet'),
  mark('report', 'in_progress', '1 of 4 written'),
];
const shown = (opened: StageMark['stage'][] | null) => seenMarks(marks, opened).map((m) => `${m.state}: ${m.words[0]?.text ?? ''}`);

describe('stations that nobody has opened', () => {
  it('are ready at most, and keep their answers to themselves', () => {
    expect(shown([])).toEqual([
      'done: 8 settings',
      'ready: 1 graph',
      'ready: ready',
      'ready: ready',
      'not_opened: no finding yet',
      'in_progress: 1 of 4 written',
    ]);
  });
  it('say what is in them once somebody has come', () => {
    expect(shown(['look', 'fit'])).toEqual([
      'done: 8 settings',
      'done: 1 graph',
      'ready: ready',
      'done: line fitted',
      'not_opened: no finding yet',
      'in_progress: 1 of 4 written',
    ]);
  });
  it('are all open where nobody keeps count', () => {
    expect(seenMarks(marks, null)).toEqual(marks);
  });
});
