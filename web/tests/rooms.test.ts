import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Refusal, type Manuscript } from '../src/api/client';
import { queryClient } from '../src/api/queries';
import { isMissingCode } from '../src/rooms/RoomBoundary';
import { RoomMemory } from '../src/rooms/roomContext';
import { fetchAhead, fetchLater, rooms } from '../src/rooms/rooms';
import { doubtOf, pathFor } from '../src/rooms/useUploads';
import { day } from '../src/ui/time';
import { read, sizesOf, write } from '../src/ui/useKept';
import { troubleOf } from '../src/write/saving';
import { together } from '../src/write/textDesk';
import { choose } from '../src/write/useOpenFile';

const manuscript = {
  mainFile: 'main.tex',
  files: [
    { id: 1, path: 'main.tex', isText: true, version: 0 },
    { id: 2, path: 'chapters/why.tex', isText: true, version: 0 },
    { id: 3, path: 'figures/wall.png', isText: false, version: 0 },
  ],
} as Manuscript;

describe('which file is open', () => {
  it('is the one that the address names, or else the main file', () => {
    expect(choose(manuscript, 'chapters/why.tex', null)?.id).toBe(2);
    expect(choose(manuscript, null, null)?.id).toBe(1);
    expect(choose(manuscript, 'gone.tex', null)?.id).toBe(1);
    expect(choose(manuscript, 'figures/wall.png', null)?.id).toBe(1);
  });

  it('stays the same one when it gets another name', () => {
    const renamed = { ...manuscript, files: [manuscript.files[0]!, { ...manuscript.files[1]!, path: 'why.tex' }] };
    expect(choose(renamed, 'chapters/why.tex', { id: 2, path: 'chapters/why.tex' })?.path).toBe('why.tex');
    expect(choose(renamed, 'chapters/why.tex', { id: 2, path: null })?.path).toBe('main.tex');
  });
});

describe('how saving stands', () => {
  const state = (waiting: number, offline = false, problem = '') => ({ waiting, offline, problem });

  it('is the sum of all texts that are open', () => {
    expect(together([state(1), state(2, true), state(0, false, 'full')])).toEqual(state(3, true, 'full'));
    expect(together([])).toEqual(state(0));
  });

  it('is trouble only when something is wrong', () => {
    expect(troubleOf(state(3), true)).toBe('');
    expect(troubleOf(state(1, true), true)).toBe('1 change waits for the connection');
    expect(troubleOf(state(15), false)).toBe('15 changes wait for the connection');
    expect(troubleOf(state(0), false)).toBe('no connection just now');
    expect(troubleOf(state(2, false, 'The disk is full.'), true)).toBe('2 changes aren’t saved yet');
  });
});

describe('uploads', () => {
  it('ask about a file that is there, and about one in an older way of storing', () => {
    expect(doubtOf(new Refusal(409, 'There is a file main.tex already. Rename or delete it first.'))).toBe('exists');
    expect(doubtOf(new Refusal(409, 'a.tex is not stored as UTF-8. It can be read as Latin-1 instead.'))).toBe(
      'latin1',
    );
    expect(doubtOf(new Refusal(413, 'A file holds at most 50 MB.'))).toBeNull();
    expect(doubtOf(new Error('There is a file'))).toBeNull();
  });

  it('put pictures where pictures are', () => {
    expect([pathFor('wall.PNG'), pathFor('a.tex'), pathFor('plot.svg'), pathFor('farms.csv')]).toEqual([
      'figures/wall.PNG',
      'a.tex',
      'figures/plot.svg',
      'farms.csv',
    ]);
  });
});

describe('trouble with a room', () => {
  // As Chromium, Firefox and WebKit say it (seen in Chromium; the others from memory).
  it.each([
    'Failed to fetch dynamically imported module: http://localhost/assets/WriteRoom-1.js',
    'error loading dynamically imported module',
    'Importing a module script failed.',
  ])('%s', (message) => {
    expect(isMissingCode(new TypeError(message))).toBe(true);
  });

  it('is something else when the code is there', () => {
    expect(isMissingCode(new TypeError('x is not a function'))).toBe(false);
  });

  it('asks again for what may come, and not for what was refused', () => {
    const retry = queryClient.getDefaultOptions().queries!.retry as (n: number, e: Error) => boolean;
    expect(retry(40, new Refusal(0, 'can’t be reached'))).toBe(true);
    expect(retry(1, new Refusal(503, 'busy'))).toBe(true);
    expect(retry(0, new Refusal(404, 'no such'))).toBe(false);
    expect(retry(0, new Refusal(401, 'signed out'))).toBe(false);
  });
});

describe('what is kept', () => {
  beforeEach(() => localStorage.clear());
  afterEach(() => vi.restoreAllMocks());

  it('is each person’s own', () => {
    write(1, 'zoom', 1.5);
    expect([read(1, 'zoom', 0), read(2, 'zoom', 0)]).toEqual([1.5, 0]);
    sizesOf(1).setItem('leaves', '{"source":40}');
    expect([sizesOf(1).getItem('leaves'), sizesOf(2).getItem('leaves')]).toEqual(['{"source":40}', null]);
  });

  it('is the initial when it can’t be read, and does no harm when it can’t be kept', () => {
    localStorage.setItem('folio.1.zoom', '{');
    expect(read(1, 'zoom', 0)).toBe(0);
    vi.spyOn(Storage.prototype, 'setItem').mockImplementation(() => {
      throw new DOMException('full', 'QuotaExceededError');
    });
    expect(() => write(1, 'zoom', 2)).not.toThrow();
  });

  it('of a room is there when one comes back, and tells who shows it', () => {
    const memory = new RoomMemory();
    let told = 0;
    const off = memory.listen(() => told++);
    expect(memory.get('filter', 'all')).toBe('all');
    memory.set('filter', 'cited');
    expect([memory.get('filter', 'all'), told]).toEqual(['cited', 1]);
    off();
    memory.set('filter', 'all');
    expect(told).toBe(1);
  });
});

describe('days as people say them', () => {
  beforeEach(() => vi.useFakeTimers({ now: new Date(2026, 10, 28, 14, 0) }));
  afterEach(() => vi.useRealTimers());

  it.each([
    [new Date(2026, 10, 28, 0, 1), 'today'],
    [new Date(2026, 10, 27, 23, 59), 'yesterday'],
    [new Date(2026, 10, 29, 9, 0), 'tomorrow'],
    [new Date(2026, 10, 23, 12, 0), 'Monday'],
    [new Date(2026, 9, 3, 12, 0), '3 October'],
    [new Date(2025, 9, 3, 12, 0), '3 October 2025'],
  ])('%s', (at, said) => {
    expect(day(at.toISOString())).toBe(said);
  });
});

describe('on the way to a room', () => {
  it('its code and what it shows first are asked for side by side, and what fails is left to the room', async () => {
    const asked = vi.spyOn(queryClient, 'prefetchQuery').mockResolvedValue();
    const loads: string[] = [];
    for (const room of rooms) {
      const load = () => {
        loads.push(room.path);
        return Promise.reject(new Error('no connection'));
      };
      fetchAhead({ ...room, load }, 7);
    }
    await Promise.resolve();
    expect(loads).toEqual(rooms.map((r) => r.path));
    expect(asked.mock.calls.map(([q]) => q.queryKey.slice(0, 3))).toEqual([
      ['manuscript', 7, 'set-up'],
      ['manuscript', 7, 'sources'],
      ['manuscript', 7, 'references'],
      ['manuscript', 7, 'hand-in'],
    ]);
    asked.mockRestore();
  });

  it('the code of all of them is fetched a while after one was opened, unless that is called off', () => {
    vi.useFakeTimers();
    const loads = rooms.map((room) => vi.spyOn(room, 'load').mockResolvedValue(undefined));
    fetchLater()();
    vi.advanceTimersByTime(60_000);
    expect(loads.every((load) => load.mock.calls.length === 0)).toBe(true);
    fetchLater();
    expect(loads.every((load) => load.mock.calls.length === 0)).toBe(true);
    vi.advanceTimersByTime(60_000);
    expect(loads.every((load) => load.mock.calls.length === 1)).toBe(true);
    loads.forEach((load) => load.mockRestore());
    vi.useRealTimers();
  });
});
