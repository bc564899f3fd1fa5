import {
  Annotation,
  ChangeSet,
  Facet,
  StateEffect,
  StateField,
  Transaction,
  type EditorState,
  type Extension,
} from '@codemirror/state';

/** A change of a file's text, by one tab. */
export interface Update {
  clientId: string;
  changes: ChangeSet;
}

interface Copy {
  /** The tab's name; no other may have the same. */
  clientId: string;
  /** How much of the shared history is in the text. */
  version: number;
  /** Own changes that the server hasn't confirmed, made on that version. */
  unsent: readonly Update[];
}

/** Others' changes in a transaction, each as it applies to the text at its turn: cursors follow their own writer's words. */
export const foreign = Annotation.define<readonly Update[]>();
const received = Annotation.define<Copy>();

const tab = Facet.define<{ version: number; clientId: string }, { version: number; clientId: string }>({
  combine: (values) => values[0] ?? { version: 0, clientId: '' },
});

const renamed = StateEffect.define<string>();
const rewritten = StateEffect.define<readonly Update[]>();

const copyField = StateField.define<Copy>({
  create: (state) => ({ ...state.facet(tab), unsent: [] }),
  update(copy, transaction) {
    const told = transaction.annotation(received);
    if (told) return told;
    for (const effect of transaction.effects) {
      if (effect.is(rewritten)) copy = { ...copy, unsent: effect.value };
      if (!effect.is(renamed)) continue;
      const clientId = effect.value;
      copy = { ...copy, clientId, unsent: copy.unsent.map((u) => ({ ...u, clientId })) };
    }
    if (!transaction.docChanged) return copy;
    const { clientId } = copy;
    return { ...copy, unsent: [...copy.unsent, { clientId, changes: transaction.changes }] };
  },
});

/**
 * The shared text with one's own changes that aren't stored yet. The rules are those of the server's Authority and of WorkingCopy
 * (src/YoungFolio.Cowriting): changes are carried over one another one by one, and of two texts that come in at one place the later
 * goes before the earlier, so that whoever types on stays with the words typed before.
 */
export const workingCopy = (version: number, clientId: string): Extension => [tab.of({ version, clientId }), copyField];

export const syncedVersion = (state: EditorState) => state.field(copyField).version;
export const unsent = (state: EditorState) => state.field(copyField).unsent;

/** Goes on under another name, with all that isn't confirmed: another tab uses the one it had. */
export const takeName = (clientId: string) => renamed.of(clientId);

/** What one change puts in the place of what; null when it changes several places. */
function onlyChange(changes: ChangeSet): { from: number; to: number; start: number; end: number } | null {
  let found: { from: number; to: number; start: number; end: number } | null = null;
  let count = 0;
  changes.iterChanges((from, to, start, end) => {
    found = { from, to, start, end };
    count++;
  });
  return count === 1 ? found : null;
}

/**
 * Own changes as fewer ones: whoever goes on within the words just typed makes one insertion of them. Carried over others' changes that is
 * the same as one after the other, which holds for nothing else. The first ones stay as they are: the server may know them already.
 */
export function fewer(updates: readonly Update[], keep: number): readonly Update[] {
  const made = updates.slice(0, keep);
  let last: { from: number; end: number } | null = null;
  for (const update of updates.slice(keep)) {
    const change = onlyChange(update.changes);
    const before = made.at(-1);
    if (before && last && change && change.from >= last.from && change.to <= last.end) {
      made[made.length - 1] = { ...update, changes: before.changes.compose(update.changes) };
      last = { from: last.from, end: last.end + update.changes.newLength - update.changes.length };
      if (last.end === last.from) {
        made.pop();
        last = null;
      }
    } else {
      made.push(update);
      last = change && change.from === change.to ? { from: change.start, end: change.end } : null;
    }
  }
  return made;
}

/** The effect that puts fewer changes in the place of the unsent ones; null where nothing is gained. */
export function asFewer(state: EditorState, keep: number): StateEffect<readonly Update[]> | null {
  const now = unsent(state);
  const made = fewer(now, keep);
  return made.length < now.length ? rewritten.of(made) : null;
}

const isSame = (a: ChangeSet, b: ChangeSet) => JSON.stringify(a.toJSON()) === JSON.stringify(b.toJSON());

/** The transaction that takes in what comes next in the shared history; one's own changes in it are confirmed by it. */
export function receive(state: EditorState, updates: readonly Update[]): Transaction {
  const { clientId, unsent } = state.field(copyField);
  let left = [...unsent];
  let all: ChangeSet | null = null;
  const others: Update[] = [];
  for (const update of updates) {
    const own = left[0];
    // Another writer in this tab's name confirms nothing of one's own.
    if (own && update.clientId === own.clientId && isSame(own.changes, update.changes)) {
      left = left.slice(1);
      continue;
    }
    let over = update.changes;
    left = left.map((own) => {
      const changes = own.changes.map(over, true);
      over = over.map(own.changes);
      return { ...own, changes };
    });
    others.push({ clientId: update.clientId, changes: over });
    all = all ? all.compose(over) : over;
  }
  const next: Copy = { clientId, version: syncedVersion(state) + updates.length, unsent: left };
  const annotations = [
    Transaction.addToHistory.of(false),
    Transaction.remote.of(true),
    received.of(next),
    foreign.of(others),
  ];
  return all
    ? state.update({ changes: all, annotations, filter: false })
    : state.update({ annotations, filter: false });
}
