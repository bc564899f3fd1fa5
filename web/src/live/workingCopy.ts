import {
  Annotation,
  ChangeSet,
  Facet,
  StateField,
  Transaction,
  type EditorState,
  type Extension,
} from '@codemirror/state';

/** A change of a part's text, by one tab. */
export interface Update {
  clientId: string;
  changes: ChangeSet;
}

interface Copy {
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

const copyField = StateField.define<Copy>({
  create: (state) => ({ version: state.facet(tab).version, unsent: [] }),
  update(copy, transaction) {
    const told = transaction.annotation(received);
    if (told) return told;
    if (!transaction.docChanged) return copy;
    const clientId = transaction.startState.facet(tab).clientId;
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

/** The transaction that takes in what comes next in the shared history; one's own changes in it are confirmed by it. */
export function receive(state: EditorState, updates: readonly Update[]): Transaction {
  const clientId = state.facet(tab).clientId;
  let left = [...state.field(copyField).unsent];
  let all: ChangeSet | null = null;
  const others: Update[] = [];
  for (const update of updates) {
    if (left.length > 0 && update.clientId === clientId) {
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
  const next: Copy = { version: syncedVersion(state) + updates.length, unsent: left };
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
