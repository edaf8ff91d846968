import { expect, test } from 'vitest';
import { findDifferences, lookAt, makeDifferences } from './differences';

const sections = [
  { id: 'aim', title: 'Aim', hint: '' },
  { id: 'method', title: 'Method', hint: 'how' },
];

test('a text in a list of things differs by itself', () => {
  const mine = sections.map((s) => (s.id === 'method' ? { ...s, hint: 'what you did' } : s));
  const found = findDifferences({ sections }, { sections: mine });
  expect(found).toEqual([{ path: ['sections', 'method', 'hint'], becomes: 'what you did' }]);
  const theirs = { sections: [{ id: 'aim', title: 'The aim', hint: 'why' }, ...sections.slice(1), { id: 'safety', title: 'Safety', hint: '' }] };
  expect(makeDifferences(theirs, found)).toEqual({
    sections: [
      { id: 'aim', title: 'The aim', hint: 'why' },
      { id: 'method', title: 'Method', hint: 'what you did' },
      { id: 'safety', title: 'Safety', hint: '' },
    ],
  });
  expect(lookAt(theirs, ['sections', 'aim', 'title'])).toBe('The aim');
});

test('what is added comes, what is taken away goes, whatever else was changed', () => {
  const added = findDifferences({ prompts: { ask: 'Why?' } }, { prompts: { find: 'How sure?' } });
  expect(makeDifferences({ prompts: { ask: 'Why?', fit: 'Straight?' } }, added)).toEqual({ prompts: { fit: 'Straight?', find: 'How sure?' } });
  const gone = findDifferences({ sections }, { sections: sections.slice(0, 1) });
  expect(makeDifferences({ sections: [...sections].reverse() }, gone)).toEqual({ sections: sections.slice(0, 1) });
  expect(makeDifferences({ sections: [] }, findDifferences({ sections: [] }, { sections }))).toEqual({ sections });
});

test('what has no parts is one piece, and what is the same is none', () => {
  expect(findDifferences({ kept_same: ['tray', 'water'] }, { kept_same: ['tray', 'oil'] })).toEqual([{ path: ['kept_same'], becomes: ['tray', 'oil'] }]);
  expect(findDifferences({ instrument: null }, { instrument: { kind: 'scale' } })).toEqual([{ path: ['instrument'], becomes: { kind: 'scale' } }]);
  expect(findDifferences({ sections }, { sections: sections.map((s) => ({ ...s })) })).toEqual([]);
});
