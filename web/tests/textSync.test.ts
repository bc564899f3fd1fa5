import { EditorState } from '@codemirror/state';
import { EditorView } from '@codemirror/view';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { ManuscriptFile } from '../src/api/client';
import { Live, LiveRefusal, Offline, type SentUpdate } from '../src/live/live';
import { saved, TextSync, type SaveState } from '../src/live/textSync';

const file: ManuscriptFile = { id: 4, path: 'main.tex', isText: true, version: 0 };

/** The live side without a server: what is sent is written down, and answered as a test wants. */
class FakeLive {
  readonly sent: string[] = [];
  readonly refused: string[] = [];
  history: SentUpdate[] = [];
  answer: (clientId: string) => Error | null = () => null;
  generation = 'g1';
  isOpen = true;
  manuscript = 1;
  private readonly heard: Record<string, ((...values: never[]) => void)[]> = {};

  on(event: string, told: (...values: never[]) => void) {
    (this.heard[event] ??= []).push(told);
    return () => undefined;
  }

  tell(event: string, ...values: unknown[]) {
    for (const told of this.heard[event] ?? []) told(...(values as never[]));
  }

  type = (_file: number, version: number, clientId: string, updates: unknown[]) => {
    const failure = this.answer(clientId);
    if (failure) return Promise.reject(failure);
    expect(version).toBe(this.history.length);
    this.sent.push(JSON.stringify(updates));
    const fresh = updates.map((changes) => ({ clientId, changes }));
    this.history.push(...fresh);
    this.tell('updates', file.id, this.history.length, fresh);
    return Promise.resolve(this.history.length);
  };

  since = (_file: number, version: number) => Promise.resolve(this.history.slice(version));
  refuse = ({ words }: { words: string }) => void this.refused.push(words);
  here = () => undefined;
}

describe('a text in step with the server', () => {
  let live: FakeLive;
  let view: EditorView;
  let sync: TextSync;
  let state: SaveState;
  let fails = false;

  beforeEach(() => {
    vi.useFakeTimers();
    live = new FakeLive();
    state = saved;
    sync = new TextSync(
      live as unknown as Live,
      file,
      { text: 'Walls.', version: 0, clientId: '7:tab', generation: null, left: null },
      (s) => {
        if (fails) throw new Error('The display fails.');
        state = s;
      },
      () => undefined,
      () => undefined,
    );
    view = new EditorView({
      state: sync.restore(EditorState.create({ doc: 'Walls.', extensions: sync.extension() })),
    });
    sync.begin();
  });

  afterEach(() => {
    sync.close();
    view.destroy();
    vi.useRealTimers();
  });

  const type = (text: string) => view.dispatch({ changes: { from: view.state.doc.length, insert: text } });
  const pass = (milliseconds: number) => vi.advanceTimersByTimeAsync(milliseconds);

  it('sends what is typed together, a moment later, and says that it is saved', async () => {
    type(' They');
    type(' stand.');
    expect(state.waiting).toBe(2);
    await pass(100);
    expect(live.sent).toHaveLength(1);
    expect(state).toEqual(saved);
  });

  it('keeps what it can’t send, says so, and sends it once when the connection is back', async () => {
    live.answer = () => new Offline();
    live.isOpen = false;
    type('!');
    await pass(1000);
    expect([live.sent.length, state.waiting, state.offline]).toEqual([0, 1, true]);
    live.answer = () => null;
    live.isOpen = true;
    live.tell('joined', 'g1');
    await pass(1000);
    expect([live.sent.length, state.waiting, state.offline]).toEqual([1, 0, false]);
    live.tell('joined', 'g1');
    await pass(1000);
    expect(live.sent).toHaveLength(1);
  });

  it('keeps on sending what is typed though what shows how saving stands fails', async () => {
    const reported = vi.fn();
    vi.stubGlobal('reportError', reported);
    fails = true;
    type(' One.');
    fails = false;
    type(' Two.');
    await pass(500);
    expect(reported).toHaveBeenCalled();
    expect(live.sent.join()).toMatch(/One.*Two/);
    vi.unstubAllGlobals();
  });

  it('waits and tries again when nothing can be stored just now', async () => {
    live.answer = () => new LiveRefusal('full', 'The disk is full.');
    type('!');
    await pass(500);
    expect(state.problem).toBe('The disk is full.');
    live.answer = () => null;
    await pass(4000);
    expect(state).toEqual(saved);
    expect(live.sent).toHaveLength(1);
  });

  it('shows words that aren’t taken, and doesn’t send them again', async () => {
    live.answer = () => new LiveRefusal('refused', 'This file isn’t there any more.');
    type(' Lost words.');
    await pass(500);
    expect(live.refused).toEqual([' Lost words.']);
    live.answer = () => null;
    await pass(10_000);
    expect(live.sent).toEqual([]);
  });

  it('shows words that wait when their file is gone by the time the connection is back', async () => {
    live.answer = () => new Offline();
    type(' Lonely.');
    await pass(500);
    live.since = () => Promise.reject(new LiveRefusal('refused', 'This file isn’t there any more.'));
    live.tell('joined', 'g1');
    await pass(500);
    expect(live.refused).toEqual([' Lonely.']);
  });

  it('takes another name when another tab has its own, and loses and doubles nothing', async () => {
    const before = sync.clientId;
    live.answer = (name) => (name === before ? new LiveRefusal('tab', 'Another tab has this name.') : null);
    type('!');
    await pass(100);
    expect(sync.clientId).not.toBe(before);
    expect(sync.clientId.startsWith('7:')).toBe(true);
    expect(live.history.map((u) => u.clientId)).toEqual([sync.clientId]);
    expect(view.state.doc.toString()).toBe('Walls.!');
  });

  it('fetches what it missed before it goes on', async () => {
    live.history.push({ clientId: '8:x', changes: [[0, 'Old '], 6] });
    live.history.push({ clientId: '8:x', changes: [4, [5, 'wall'], 1] });
    // Word of the first never came.
    live.tell('updates', file.id, 2, live.history.slice(1));
    await pass(100);
    expect(view.state.doc.toString()).toBe('Old wall.');
  });

  it('shows what waits when another state of the data was put in place, and nothing of it goes there', async () => {
    live.answer = () => new Offline();
    type(' Nowhere.');
    await pass(100);
    live.answer = () => null;
    live.tell('joined', 'g2');
    await pass(1000);
    expect(live.refused).toEqual([' Nowhere.']);
    expect(live.sent).toEqual([]);
  });

  it('carries a place of an earlier version over what anyone typed since', async () => {
    live.tell('updates', file.id, 1, [{ clientId: '8:x', changes: [[0, 'Old '], 6] }]);
    type('!');
    await pass(10);
    const carry = sync.carrier(0)!;
    expect([carry(0, 1), carry(6, -1)]).toEqual([4, 10]);
    expect(sync.carrier(9)).toBeNull();
  });

  it('sends what was written for hours in pieces that the server takes, each once', async () => {
    live.answer = () => new Offline();
    live.isOpen = false;
    // At ever other places: nothing of it can be made one.
    for (let i = 0; i < 2500; i++) view.dispatch({ changes: { from: 0, to: 1, insert: i % 2 ? 'W' : 'V' } });
    await pass(1000);
    expect(state.waiting).toBe(2500);
    live.answer = () => null;
    live.isOpen = true;
    live.tell('joined', 'g1');
    await pass(1000);
    expect(live.sent.map((s) => (JSON.parse(s) as unknown[]).length)).toEqual([1000, 1000, 500]);
    expect(state).toEqual(saved);
  });

  it('keeps thousands of keys as one change, but leaves what the server may know as it was', async () => {
    live.answer = () => new Offline();
    type('!');
    await pass(10);
    live.isOpen = false;
    for (let i = 0; i < 1000; i++) type('a');
    await pass(1000);
    expect(state.waiting).toBe(2);
    live.answer = () => null;
    live.isOpen = true;
    live.tell('joined', 'g1');
    await pass(1000);
    expect(live.sent).toEqual([
      JSON.stringify([
        [6, [0, '!']],
        [7, [0, 'a'.repeat(1000)]],
      ]),
    ]);
  });

  it('says what the server has of a text, without what waits', async () => {
    live.answer = () => new Offline();
    type(' They stand.');
    await pass(10);
    live.history.push({ clientId: '9:other', changes: [[0, 'Old '], 6] });
    live.tell('updates', file.id, 1, live.history);
    expect(sync.stored).toEqual({ id: 4, path: 'main.tex', text: 'Old Walls.', version: 1 });
    expect(view.state.doc.toString()).toBe('Old Walls. They stand.');
  });

  it('says where words stand in the server’s text when it has all of them, and not before', async () => {
    live.answer = () => new LiveRefusal('full', 'No room just now.');
    type(' They stand.');
    await pass(10);
    const place = sync.storedStretch(() => ({ from: 7, to: view.state.doc.length }));
    const early = await Promise.race([place, pass(500).then(() => 'waits')]);
    expect(early).toBe('waits');
    live.answer = () => null;
    await pass(4000);
    expect(await place).toEqual({ version: 1, from: 7, to: 18 });
    expect(live.sent).toHaveLength(1);
  });

  it('says of words that don’t get to be stored that it has no place for them, at once without a connection', async () => {
    live.answer = () => new Offline();
    live.isOpen = false;
    type(' They stand.');
    expect(await sync.storedStretch(() => ({ from: 0, to: 18 }))).toBeNull();
    live.isOpen = true;
    live.answer = () => new LiveRefusal('full', 'No room just now.');
    const place = sync.storedStretch(() => ({ from: 0, to: 18 }));
    await pass(6000);
    expect(await place).toBeNull();
  });
});
