import { ChangeSet, Transaction, type EditorState, type Extension, type Text } from '@codemirror/state';
import { ViewPlugin, type EditorView, type ViewUpdate } from '@codemirror/view';
import type { FileText, ManuscriptFile } from '../api/client';
import { getKept, keptGeneration } from '../offline/kept';
import { Live, LiveRefusal, type Place, type SentUpdate } from './live';
import { dropUnsent, holdTab, keepUnsent, orphans, type UnsentRecord } from './unsentStore';
import { asFewer, receive, syncedVersion, takeName, unsent, workingCopy, type Update } from './workingCopy';

/** How saving stands. */
export interface SaveState {
  waiting: number;
  offline: boolean;
  /** Nothing can be stored just now; it is tried again. */
  problem: string;
}

/** A stretch of a version of a file's text that the server has. */
export interface StoredStretch {
  version: number;
  from: number;
  to: number;
}

export const saved: SaveState = { waiting: 0, offline: false, problem: '' };

/** What a file begins with: its text, and what an earlier tab left unsent in it. */
export interface Opened {
  text: string;
  version: number;
  /** The state of the data that the text is of; null: of the one that is there now. */
  generation: string | null;
  clientId: string;
  left: UnsentRecord | null;
}

/**
 * So long what is typed waits before it is kept in the browser: with a connection it is stored on the server by then, and writing a
 * long text down at every key would be felt.
 */
const KeepAfter = 150;
const RetryAfter = 3000;
const HearWithin = 250;
const KeptUpdates = 300;

/** So long whoever needs what is typed to be stored waits for it, in milliseconds. */
const StoredWithin = 5000;

/** So many changes that were never sent are made fewer before they are kept: whoever writes for hours without a connection makes thousands. */
const ManyUnsent = 100;

/** So much is sent at a time: so many changes, of so many characters. */
const AtATime = 1000;
const CharactersAtATime = 2 * 1024 * 1024;

/** The largest text that may come in at once; the server's limit is the same. */
export const LargestInsert = 2 * 1024 * 1024;

/** Where a file's text is asked for. */
export const textPath = (manuscript: number, file: number) => `/api/manuscripts/${manuscript}/files/${file}`;

export async function fetchText(manuscript: number, file: ManuscriptFile, person: number): Promise<Opened> {
  const left = (await orphans(manuscript, person)).find((r) => r.file === file.id);
  if (left) {
    const { base, version, generation, clientId } = left;
    return { text: base, version, generation, clientId, left };
  }
  const text = await getKept<FileText>(textPath(manuscript, file.id));
  const clientId = newName(`${person}:`);
  const generation = text.asOf ? await keptGeneration(manuscript) : null;
  return { text: text.text, version: text.version, generation, clientId, left: null };
}

/** A name for a tab that no other has; it begins with the person's number. */
const newName = (clientId: string) =>
  clientId.slice(0, clientId.indexOf(':') + 1) + crypto.getRandomValues(new Uint32Array(3)).join('');

/** Sends what a person's tabs that are gone left unsent; whatever the server has already it doesn't take twice. */
export async function sendOrphans(live: Live, person: number) {
  for (const { clientId, file, version, generation, updates } of await orphans(live.manuscript, person)) {
    if (generation === live.generation) await sendLast(live, file, version, clientId, updates);
    else live.refuse({ clientId, words: wordsOf(updates), why: putBack });
  }
}

/** Sends changes that no leaf holds any more; if they aren't taken their writer is told. */
async function sendLast(live: Live, file: number, version: number, clientId: string, updates: unknown[]) {
  try {
    await live.type(file, version, clientId, updates);
    await dropUnsent(clientId);
  } catch (e) {
    // Without a connection they wait until the manuscript is opened again.
    if (e instanceof LiveRefusal && (e.code === 'refused' || e.code === 'tab')) {
      live.refuse({ clientId, words: wordsOf(updates), why: e.message });
    }
  }
}

const putBack = 'The manuscript was put back to an earlier state, so these words of yours have no place in it now.';

function wordsOf(updates: unknown[]): string {
  const words: string[] = [];
  for (const json of updates) {
    ChangeSet.fromJSON(json).iterChanges((_a, _b, _c, _d, text) => void words.push(text.toString()));
  }
  return words.join('');
}

/**
 * Keeps a file's text in step with the server: sends one's own changes soon after they are typed, takes in what others do,
 * and keeps what isn't stored yet over a lost connection, a reload and a crash.
 */
export class TextSync {
  clientId: string;
  private view: EditorView | null = null;
  /** Where others see the cursor. */
  private told: { anchor: number; head: number; line: number } | null = null;
  private busy = false;
  private timer = 0;
  private isDue = false;
  /** The state of the data that the text is of; null until it is known. */
  private generation: string | null;
  private closed = false;
  private base: Text | null = null;
  private keeping: Promise<void> | null = null;
  private keepAgain = false;
  private keepTimer = 0;
  private isKept: boolean;
  private problem = '';
  private isRefused = false;
  /** So many of the changes that aren't confirmed the server may know. */
  private sent: number;
  private readonly recent: { version: number; update: Update }[] = [];
  private release: () => void;
  private readonly off: (() => void)[];
  private heard: (() => void)[] = [];
  /** Who waits until all that was typed is stored. */
  private awaiting: (() => void)[] = [];
  /** From this version on what came is known. */
  private knownFrom: number;

  constructor(
    private readonly live: Live,
    private readonly file: ManuscriptFile,
    private readonly opened: Opened,
    private readonly onState: (state: SaveState) => void,
    private readonly onPlaces: () => void,
    private readonly onRestored: () => void,
  ) {
    this.generation = opened.generation ?? live.generation;
    this.clientId = opened.clientId;
    this.knownFrom = opened.version;
    this.isKept = opened.left !== null;
    this.sent = opened.left?.updates.length ?? 0;
    this.release = holdTab(this.clientId);
    window.addEventListener('pagehide', this.keepNow);
    this.off = [
      live.on('updates', (id, version, updates) => id === file.id && this.hear(version, updates)),
      live.on('joined', (generation) => this.joined(generation)),
      live.on('lost', () => this.report()),
    ];
  }

  extension(): Extension {
    return [
      workingCopy(this.opened.version, this.clientId),
      ViewPlugin.define((view) => {
        this.view = view;
        return {
          update: (update: ViewUpdate) => {
            if (update.docChanged) this.carryTold(update);
            if (update.docChanged && unsent(update.state).length > 0) this.changed(update);
          },
        };
      }),
    ];
  }

  /** Puts back what was typed before a reload. */
  restore(state: EditorState): EditorState {
    this.base = state.doc;
    for (const json of this.opened.left?.updates ?? []) {
      state = state.update({ changes: ChangeSet.fromJSON(json) }).state;
    }
    return state;
  }

  /** Begins to send and to hear, once the text is shown. */
  begin() {
    if (this.live.generation) this.joined(this.live.generation);
    this.report();
  }

  get waiting() {
    return this.view ? unsent(this.view.state).length : 0;
  }

  /**
   * Carries a place of an earlier version to where it is in the text now, over what anyone typed since; null when that isn't known.
   * What comes in right at the place is left outside it.
   */
  carrier(version: number): ((position: number, side: -1 | 1) => number) | null {
    const all = this.changesSince(version);
    if (!all) return null;
    return (position, side) =>
      all.reduce((at, changes) => changes.mapPos(Math.min(at, changes.length), side), position);
  }

  /** Carries places of the text as it is back to an earlier version; null when what came since isn't known. */
  carrierBack(version: number): ((position: number) => number) | null {
    const all = this.changesSince(version);
    if (!all) return null;
    return (position) =>
      all.reduceRight((at, changes) => changes.invertedDesc.mapPos(Math.min(at, changes.newLength), -1), position);
  }

  /** What came since a version, one's own words last; null when that isn't known here. */
  private changesSince(version: number): ChangeSet[] | null {
    if (!this.view) return null;
    const state = this.view.state;
    if (version > syncedVersion(state) || version < this.knownFrom) return null;
    const since = this.recent.filter((r) => r.version > version).map((r) => r.update.changes);
    return [...since, ...unsent(state).map((u) => u.changes)];
  }

  /** As carrier, for any version: what isn't known here is asked for. */
  async carrierFrom(version: number): Promise<((position: number, side: -1 | 1) => number) | null> {
    const known = this.carrier(version);
    if (known || !this.view) return known;
    const since = await this.live.since(this.file.id, version);
    const view = this.view as EditorView | null;
    if (!view) return null;
    this.hear(version + since.length, since);
    const behind = syncedVersion(view.state) - version - since.length;
    const rest = behind > 0 ? this.recent.slice(-behind).map((r) => r.update.changes) : [];
    const sets = [...since.map((u) => ChangeSet.fromJSON(u.changes)), ...rest];
    sets.push(...unsent(view.state).map((u) => u.changes));
    return (position, side) => sets.reduce((at, c) => c.mapPos(Math.min(at, c.length), side), position);
  }

  /** Where another's cursor is in the text as it is here; null when what it stands in hasn't come yet, or is too long ago. */
  locate(place: Place): { anchor: number; head: number } | null {
    if (!this.view || place.file !== this.file.id) return null;
    const state = this.view.state;
    if (place.version > syncedVersion(state) || place.version < this.knownFrom) return null;
    const follow = (position: number) => {
      for (const { version, update } of this.recent) {
        if (version <= place.version) continue;
        position = Math.min(position, update.changes.length);
        position = update.changes.mapPos(position, update.clientId === place.clientId ? 1 : -1);
      }
      for (const own of unsent(state)) position = own.changes.mapPos(Math.min(position, own.changes.length), -1);
      return Math.min(position, state.doc.length);
    };
    return { anchor: follow(place.anchor), head: follow(place.head) };
  }

  /**
   * The own place, if others don't know it: null while something of one's own isn't stored, and when the words typed since
   * carried the cursor along, which others see by themselves.
   */
  news(): Place | null {
    if (!this.view || this.waiting > 0) return null;
    const { doc, selection } = this.view.state;
    const { anchor, head } = selection.main;
    const line = doc.lineAt(head).number;
    const { told } = this;
    if (told?.anchor === anchor && told.head === head && told.line === line) return null;
    this.told = { anchor, head, line };
    return { clientId: this.clientId, file: this.file.id, version: syncedVersion(this.view.state), anchor, head, line };
  }

  /** Someone came who hasn't heard where one is. */
  tellAnew() {
    this.told = null;
  }

  /** The text as the server has it, as far as it is known here. */
  get stored(): FileText | null {
    if (!this.view || this.generation !== this.live.generation) return null;
    const { id, path } = this.file;
    return { id, path, text: (this.base ?? this.view.state.doc).toString(), version: syncedVersion(this.view.state) };
  }

  /**
   * A stretch of the text as the server has it, once it has all that was typed in it: before, words of its own would be missing.
   * @param now Where it is when that is so.
   * @returns null when the server doesn't get to have it.
   */
  async storedStretch(now: () => { from: number; to: number }): Promise<StoredStretch | null> {
    await this.allStored();
    const { stored } = this;
    const back = stored && this.carrierBack(stored.version);
    if (!back || this.waiting > 0) return null;
    const { from, to } = now();
    return { version: stored.version, from: back(from), to: back(to) };
  }

  // Without a connection nothing would come of waiting.
  private allStored(): Promise<void> {
    if (this.waiting === 0 || this.isRefused || !this.live.isOpen) return Promise.resolve();
    return new Promise((resolve) => {
      const timer = window.setTimeout(resolve, StoredWithin);
      this.awaiting.push(() => {
        window.clearTimeout(timer);
        resolve();
      });
    });
  }

  /** Ends; what waits goes out now, or when the manuscript is opened again. */
  close() {
    const view = this.view;
    if (view && this.waiting > 0 && !this.isRefused) {
      void sendLast(this.live, this.file.id, syncedVersion(view.state), this.clientId, this.unsentJson());
    }
    this.keepNow();
    window.removeEventListener('pagehide', this.keepNow);
    this.closed = true;
    window.clearTimeout(this.timer);
    this.off.forEach((f) => f());
    this.release();
  }

  // As the others' leaves do it: along with one's own words, and before those of others.
  private carryTold(update: ViewUpdate) {
    if (!this.told) return;
    for (const transaction of update.transactions) {
      const side = transaction.annotation(Transaction.remote) ? -1 : 1;
      this.told.anchor = transaction.changes.mapPos(this.told.anchor, side);
      this.told.head = transaction.changes.mapPos(this.told.head, side);
    }
  }

  private changed(update: ViewUpdate) {
    this.base ??= update.startState.doc;
    this.keepSoon();
    this.report();
    // At once, before anything is drawn, along with all that changes in the same moment; what is typed while it is under way goes
    // when it has arrived.
    if (this.timer || this.isDue) return;
    this.isDue = true;
    queueMicrotask(() => {
      this.isDue = false;
      void this.push();
    });
  }

  private hear(version: number, updates: SentUpdate[]) {
    const view = this.view;
    if (!view || this.closed) return;
    const known = syncedVersion(view.state);
    const first = version - updates.length;
    if (first > known) {
      void this.catchUp();
      return;
    }
    const fresh = updates
      .slice(known - first)
      .map((u) => ({ clientId: u.clientId, changes: ChangeSet.fromJSON(u.changes) }));
    if (fresh.length === 0) return;
    fresh.forEach((update, i) => this.recent.push({ version: known + i + 1, update }));
    for (const { version } of this.recent.splice(0, Math.max(0, this.recent.length - KeptUpdates)))
      this.knownFrom = version;
    if (this.base) this.base = fresh.reduce((text, u) => u.changes.apply(text), this.base);
    const unconfirmed = this.waiting;
    view.dispatch(receive(view.state, fresh));
    this.sent = Math.max(0, this.sent - (unconfirmed - this.waiting));
    if (this.waiting === 0) this.base = null;
    this.keepSoon();
    this.heard.splice(0).forEach((f) => f());
    this.onPlaces();
    this.report();
  }

  // A backup may have been put in place: then nothing here is of the text that is there now.
  private joined(generation: string) {
    this.generation ??= generation;
    // Whoever came while one was away hasn't heard where one is.
    this.told = null;
    if (this.generation === generation) {
      void this.catchUp();
    } else if (this.waiting > 0) {
      this.refuse(putBack);
    } else {
      this.onRestored();
    }
  }

  private async catchUp() {
    const view = this.view;
    if (!view || this.closed) return;
    try {
      await this.fetchMissed(view);
      this.report();
      if (this.waiting > 0) await this.push();
    } catch (e) {
      // A file that isn't there any more takes no words; otherwise it is tried again when the connection is back.
      if (e instanceof LiveRefusal && e.code === 'refused' && this.waiting > 0) this.refuse(e.message);
      this.report();
    }
  }

  // A duplicated tab has the name of the one that it was made from. What that one sent is another's words here.
  private async takeNewName(): Promise<boolean> {
    const { view } = this;
    if (!view) return false;
    try {
      await this.fetchMissed(view);
    } catch {
      return false;
    }
    const before = this.clientId;
    this.release();
    this.clientId = newName(before);
    this.release = holdTab(this.clientId);
    this.told = null;
    view.dispatch({ effects: takeName(this.clientId) });
    await this.keep();
    await dropUnsent(before);
    return true;
  }

  private async fetchMissed(view: EditorView) {
    const known = syncedVersion(view.state);
    const missed = await this.live.since(this.file.id, known);
    this.hear(known + missed.length, missed);
  }

  private async push(): Promise<void> {
    window.clearTimeout(this.timer);
    this.timer = 0;
    if (this.busy || this.isRefused) return;
    this.busy = true;
    let again = 0;
    try {
      while (this.view && !this.closed && this.waiting > 0) {
        this.makeFewer(this.view);
        const batch = this.nextBatch();
        if (batch.length === 0) break;
        this.sent = Math.max(this.sent, batch.length);
        const known = syncedVersion(this.view.state);
        const version = await this.live.type(this.file.id, known, this.clientId, batch);
        this.problem = '';
        if (!(await this.hears(version))) await this.fetchMissed(this.view);
      }
    } catch (e) {
      if (e instanceof LiveRefusal) {
        if (e.code === 'refused') this.refuse(e.message);
        else if (e.code === 'tab') again = (await this.takeNewName()) ? 1 : RetryAfter;
        else again = e.code === 'full' ? RetryAfter : 1;
        this.problem = e.code === 'full' ? e.message : '';
      }
    } finally {
      this.busy = false;
      this.report();
    }
    if (again === 1) await this.catchUp();
    else if (again && !this.closed) this.timer = window.setTimeout(() => void this.push(), again);
  }

  private makeFewer(view: EditorView) {
    if (this.waiting - this.sent < 2) return;
    const effects = asFewer(view.state, this.sent);
    if (effects) view.dispatch({ effects });
    if (this.waiting === 0) this.base = null;
  }

  private nextBatch(): unknown[] {
    const batch: unknown[] = [];
    let characters = 0;
    for (const { changes } of this.view ? unsent(this.view.state) : []) {
      changes.iterChanges((_a, _b, _c, _d, text) => (characters += text.length));
      if (batch.length >= AtATime || (batch.length > 0 && characters > CharactersAtATime)) break;
      batch.push(changes.toJSON());
    }
    return batch;
  }

  // Word of what was just sent comes to all at once, the sender too.
  private hears(version: number): Promise<boolean> {
    const there = () => !this.view || this.closed || syncedVersion(this.view.state) >= version;
    if (there()) return Promise.resolve(true);
    return new Promise((resolve) => {
      const timer = window.setTimeout(() => resolve(there()), HearWithin);
      const look = () => {
        if (there()) {
          window.clearTimeout(timer);
          resolve(true);
        } else {
          this.heard.push(look);
        }
      };
      this.heard.push(look);
    });
  }

  private keepSoon() {
    this.keepTimer ||= window.setTimeout(this.keepNow, KeepAfter);
  }

  // Also when the page goes: what is begun by then is carried out.
  private readonly keepNow = () => {
    if (!this.keepTimer) return;
    window.clearTimeout(this.keepTimer);
    this.keepTimer = 0;
    void this.keep();
  };

  // One record at a time is written, always the newest; nothing where nothing waits or was kept.
  private async keep() {
    if (this.keeping) {
      this.keepAgain = true;
      return;
    }
    do {
      this.keepAgain = false;
      const view = this.view;
      if (!view) return;
      if (this.waiting - this.sent > ManyUnsent) this.makeFewer(view);
      const updates = this.unsentJson();
      const isWanted = updates.length > 0 && this.base !== null && this.generation !== null;
      if (!isWanted && !this.isKept) return;
      this.isKept = isWanted;
      this.keeping =
        !this.base || !this.generation || !isWanted
          ? dropUnsent(this.clientId)
          : keepUnsent({
              clientId: this.clientId,
              manuscript: this.live.manuscript,
              file: this.file.id,
              path: this.file.path,
              generation: this.generation,
              version: syncedVersion(view.state),
              base: this.base.toString(),
              updates,
            });
      await this.keeping.catch(() => undefined);
      this.keeping = null;
    } while (this.keepAgain && !this.closed);
  }

  private unsentJson(): unknown[] {
    return this.view ? unsent(this.view.state).map((u) => u.changes.toJSON() as unknown) : [];
  }

  private refuse(why: string) {
    this.isRefused = true;
    this.live.refuse({ clientId: this.clientId, words: wordsOf(this.unsentJson()), why });
  }

  private report() {
    const { waiting, problem } = this;
    if (waiting === 0) this.awaiting.splice(0).forEach((f) => f());
    if (this.closed) return;
    try {
      this.onState({ waiting, offline: !this.live.isOpen, problem });
    } catch (e) {
      // What shows how saving stands may fail; words that are typed are kept and sent all the same.
      reportError(e);
    }
  }
}
