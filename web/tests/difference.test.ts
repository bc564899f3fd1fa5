import { expect, test } from 'vitest';
import { applied } from '../src/live/difference';

test('what didn’t change stays the same object', () => {
  const before = { kept: { a: [1, 2] }, list: [1, 2, 3, 4], gone: 1, deep: { x: 1, y: [1] }, text: 'a' };
  const after = applied(before, {
    list: { at: 1, gone: 2, put: [7, 8, 9] },
    gone: { none: true },
    deep: { in: { x: { is: null }, y: { at: 1, gone: 0, put: [2] } } },
    text: { is: ['b'] },
    added: { is: 5 },
  });
  expect(after).toEqual({
    kept: { a: [1, 2] },
    list: [1, 7, 8, 9, 4],
    deep: { x: null, y: [1, 2] },
    text: ['b'],
    added: 5,
  });
  expect(after.kept).toBe(before.kept);
  expect(before.list).toEqual([1, 2, 3, 4]);
});
