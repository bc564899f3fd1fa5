import { ChangeSet, EditorState } from '@codemirror/state';
import { describe, expect, it } from 'vitest';
import {
  asFewer,
  fewer,
  foreign,
  receive,
  syncedVersion,
  takeName,
  unsent,
  workingCopy,
  type Update,
} from '../src/live/workingCopy';

/** Numbers that look random and are the same each time. */
function random(seed: number) {
  let state = seed;
  return (below: number) => {
    state = (state * 1_103_515_245 + 12_345) % 2_147_483_648;
    return Math.floor((state / 2_147_483_648) * below);
  };
}

const begin = (doc: string, clientId: string) => EditorState.create({ doc, extensions: workingCopy(0, clientId) });

/** The shared history as the server keeps it: a change made on an earlier version is carried over what came since, one by one. */
class Server {
  readonly history: Update[] = [];

  take(version: number, updates: readonly Update[]) {
    for (const { clientId, changes } of updates) {
      let carried = changes;
      for (const later of this.history.slice(version)) {
        if (later.clientId === clientId) continue;
        carried = carried.map(later.changes, true);
      }
      // Own changes that are in by now were there before this one.
      this.history.push({ clientId, changes: carried });
      version = this.history.length;
    }
  }
}

describe('the working copy', () => {
  it('keeps what is typed as unsent until it is confirmed', () => {
    let state = begin('walls', '1:a');
    state = state.update({ changes: { from: 5, insert: ' stand' } }).state;
    expect(unsent(state)).toHaveLength(1);
    const [sent] = unsent(state);
    state = receive(state, [sent!]).state;
    expect([unsent(state).length, syncedVersion(state), state.doc.toString()]).toEqual([0, 1, 'walls stand']);
  });

  it('lets another writer in its own name confirm nothing', () => {
    let state = begin('walls', '1:a');
    state = state.update({ changes: { from: 0, insert: 'Old ' } }).state;
    const other = { clientId: '1:a', changes: ChangeSet.of({ from: 5, insert: '!' }, 5) };
    state = receive(state, [other]).state;
    expect(unsent(state)).toHaveLength(1);
    expect(state.doc.toString()).toBe('Old walls!');
  });

  it('keeps words whole that two type at one place', () => {
    let state = begin('', '1:a');
    for (const letter of 'mine') state = state.update({ changes: { from: state.doc.length, insert: letter } }).state;
    state = receive(state, [{ clientId: '2:b', changes: ChangeSet.of({ from: 0, insert: 'yours' }, 0) }]).state;
    expect(state.doc.toString()).toBe('mineyours');
  });

  it('says each of the others’ changes as it applies at its turn', () => {
    let state = begin('ab', '1:a');
    state = state.update({ changes: { from: 1, insert: 'X' } }).state;
    const taken = receive(state, [
      { clientId: '2:b', changes: ChangeSet.of({ from: 2, insert: '1' }, 2) },
      { clientId: '3:c', changes: ChangeSet.of({ from: 3, insert: '2' }, 3) },
    ]);
    const told = taken.annotation(foreign)!;
    expect(told.map((u) => u.clientId)).toEqual(['2:b', '3:c']);
    expect(told[1]!.changes.apply(told[0]!.changes.apply(state.doc)).toString()).toBe('aXb12');
  });

  it('takes all that is unsent along under another name', () => {
    let state = begin('a', '1:a');
    state = state.update({ changes: { from: 1, insert: 'b' } }).state;
    state = state.update({ effects: takeName('1:z') }).state;
    expect(unsent(state).map((u) => u.clientId)).toEqual(['1:z']);
    state = state.update({ changes: { from: 2, insert: 'c' } }).state;
    expect(unsent(state).map((u) => u.clientId)).toEqual(['1:z', '1:z']);
  });

  it('ends with one text, whoever hears of what when', () => {
    for (let seed = 1; seed <= 60; seed++) {
      const dice = random(seed);
      const server = new Server();
      const names = ['1:a', '2:b', '3:c'];
      const states = names.map((name) => begin('The oldest wall stands.', name));
      for (let step = 0; step < 60; step++) {
        const i = dice(3);
        const state = states[i]!;
        switch (dice(3)) {
          case 0: {
            const from = dice(state.doc.length + 1);
            const to = Math.min(state.doc.length, from + dice(3));
            states[i] = state.update({ changes: { from, to, insert: 'xyz'.slice(0, dice(4)) } }).state;
            break;
          }
          case 1:
            // Only what was made on the newest version is sent as it is; what is behind hears first, as a tab does.
            if (syncedVersion(state) === server.history.length) server.take(server.history.length, unsent(state));
            break;
          default: {
            const known = syncedVersion(state);
            const some = server.history.slice(known, known + 1 + dice(4));
            if (some.length > 0) states[i] = receive(state, some).state;
          }
        }
      }
      for (let round = 0; round < 4; round++) {
        names.forEach((_, i) => {
          const state = receive(states[i]!, server.history.slice(syncedVersion(states[i]!))).state;
          server.take(server.history.length, unsent(state));
          states[i] = receive(state, server.history.slice(syncedVersion(state))).state;
        });
      }
      names.forEach((_, i) => (states[i] = receive(states[i]!, server.history.slice(syncedVersion(states[i]!))).state));
      const [first, ...others] = states.map((s) => s.doc.toString());
      expect(others, `seed ${seed}`).toEqual([first, first]);
      expect(states.map((s) => unsent(s).length)).toEqual([0, 0, 0]);
    }
  });
});

describe('own changes made fewer', () => {
  const typed = (doc: string, changes: { from: number; to?: number; insert?: string }[]) =>
    changes.reduce((state, c) => state.update({ changes: c }).state, begin(doc, '1:a'));

  it('makes one insertion of what follows one another, with what was taken back of it', () => {
    const state = typed('Walls.', [
      { from: 5, insert: ' s' },
      { from: 7, insert: 'tnd' },
      { from: 8, to: 10 },
      { from: 8, insert: 'and' },
    ]);
    const made = fewer(unsent(state), 0);
    expect(made.map((u) => u.changes.toJSON() as unknown)).toEqual([[5, [0, ' stand'], 1]]);
  });

  it('leaves nothing of what was typed and taken back whole', () => {
    const state = typed('Walls.', [
      { from: 5, insert: 'x' },
      { from: 5, to: 6 },
    ]);
    expect(fewer(unsent(state), 0)).toEqual([]);
  });

  it('leaves apart what is at other places, and what takes away what was there before', () => {
    const state = typed('Walls stand.', [
      { from: 0, insert: 'Old ' },
      { from: 10, insert: 'x' },
      { from: 3, to: 6 },
    ]);
    expect(fewer(unsent(state), 0)).toHaveLength(3);
  });

  it('doesn’t touch the first ones, which the server may know', () => {
    const state = typed(
      '',
      [...'walls'].map((insert, from) => ({ from, insert })),
    );
    const made = fewer(unsent(state), 2);
    expect(made.slice(0, 2)).toEqual(unsent(state).slice(0, 2));
    expect(made).toHaveLength(3);
    expect(asFewer(state, 5)).toBeNull();
  });

  it('changes nothing about what comes of them together with what others did', () => {
    for (let seed = 1; seed <= 300; seed++) {
      const next = random(seed);
      let one = begin('The wall stands on the hill.', '1:a');
      let at = next(20);
      for (let i = 0; i < 12; i++) {
        const { length } = one.doc;
        if (next(5) === 0) at = next(length + 1);
        at = Math.min(at, length);
        const isBack = next(4) === 0 && at > 0;
        one = one.update({ changes: isBack ? { from: at - 1, to: at } : { from: at, insert: 'abc'[next(3)] } }).state;
        at += isBack ? -1 : 1;
      }
      const effects = asFewer(one, next(3));
      const two = effects ? one.update({ effects }).state : one;
      let doc = EditorState.create({ doc: 'The wall stands on the hill.' }).doc;
      const others: Update[] = [];
      for (let i = 0; i < 4; i++) {
        const from = next(doc.length + 1);
        const to = Math.min(doc.length, from + next(6));
        const changes = ChangeSet.of({ from, to, insert: 'XYZ'.slice(0, next(4)) }, doc.length);
        doc = changes.apply(doc);
        others.push({ clientId: '2:b', changes });
      }
      const [merged, reference] = [receive(two, others).state, receive(one, others).state];
      expect(merged.doc.toString(), `seed ${seed}`).toBe(reference.doc.toString());
    }
  });
});
