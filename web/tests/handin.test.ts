import { describe, expect, it } from 'vitest';
import { due, sizeOf, summary } from '../src/handin/checks';

const check = (state: 'holds' | 'look' | 'mend') => ({
  key: state,
  state,
  says: '',
  rule: '',
  advice: '',
  places: [],
  room: null,
});

describe('checks before handing in', () => {
  it('are summed up in a line', () => {
    expect(
      summary([
        { title: 'a', checks: [check('holds'), check('mend')] },
        { title: 'b', checks: [check('holds'), check('look'), check('look')] },
      ]),
    ).toBe('2 hold, 1 to mend, 2 to look at');
    expect(summary([{ title: 'a', checks: [check('holds')] }])).toBe('1 hold');
  });

  it('say when something is due', () => {
    const today = new Date(2026, 10, 24, 23, 50);
    expect(due('2026-11-27', today)).toBe('due Friday 27 November, in 3 days');
    expect(due('2026-11-24', today)).toBe('due today, Tuesday 24 November');
    expect(due('2026-11-25', today)).toBe('due tomorrow, Wednesday 25 November');
    expect(due('2026-11-23', today)).toBe('was due Monday 23 November, 1 day ago');
  });

  it('say sizes for people', () => {
    expect([999, 1500, 1_940_000].map(sizeOf)).toEqual(['999 bytes', '2 kB', '1.9 MB']);
  });
});
