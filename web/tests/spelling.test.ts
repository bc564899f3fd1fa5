import type { EditorView } from '@codemirror/view';
import { beforeEach, expect, test, vi } from 'vitest';
import { SpellingLook } from '../src/write/source/spelling';

interface Unknown {
  word: string;
}
const waiting: ((words: string[]) => void)[] = [];

vi.mock('../src/api/client', () => ({
  get: () =>
    new Promise((resolve) => {
      waiting.push((words) =>
        resolve({
          version: 1,
          words: words.map((word) => ({ word, offset: 0, length: word.length, language: 'en-gb' })),
        }),
      );
    }),
}));

beforeEach(() => {
  waiting.length = 0;
});

test('answers that overtake one another: the last question counts', async () => {
  let shown: string[] = [];
  const view = {
    state: { doc: { length: 100 } },
    dispatch: ({ effects }: { effects: { value: Unknown[] } }) => (shown = effects.value.map((u) => u.word)),
  } as unknown as EditorView;
  const look = new SpellingLook(
    () => view,
    '/spelling',
    () => (at) => at,
    () => null,
  );
  vi.useFakeTimers();
  look.use('en-gb');
  await vi.advanceTimersByTimeAsync(0);
  // A word was made right while the first question was on its way.
  look.soon();
  await vi.advanceTimersByTimeAsync(1000);
  expect(waiting).toHaveLength(2);
  waiting[1]!(['wrng']);
  await vi.advanceTimersByTimeAsync(0);
  expect(shown).toEqual(['wrng']);
  waiting[0]!(['wrng', 'Tephromela']);
  await vi.advanceTimersByTimeAsync(0);
  expect(shown).toEqual(['wrng']);
  look.close();
  vi.useRealTimers();
});
