import { collab, getSyncedVersion, receiveUpdates, sendableUpdates, type Update } from '@codemirror/collab';
import { ChangeSet } from '@codemirror/state';
import { ViewPlugin, type EditorView, type ViewUpdate } from '@codemirror/view';
import { get, post, Refusal, type UpdatesAnswer } from '../api/client';

/** How saving stands: all saved, some changes on their way, or the connection lost. */
export interface SaveState {
  waiting: number;
  offline: boolean;
  problem: string;
}

const decode = (answer: UpdatesAnswer): Update[] =>
  answer.missed.map((u) => ({ clientID: u.clientId, changes: ChangeSet.fromJSON(u.changes) }));

/**
 * Keeps a part's text in step with the server: sends one's own changes soon after they are typed, carries them over what
 * others did first, and keeps them through a lost connection.
 */
export class PartSync {
  private view: EditorView | null = null;
  private busy = false;
  private timer = 0;
  private closed = false;
  /** The newest version that the server has told of. */
  private newest = 0;

  constructor(
    private readonly path: string,
    private readonly onState: (state: SaveState) => void,
  ) {}

  extension(version: number) {
    return [
      collab({ startVersion: version }),
      ViewPlugin.define((view) => {
        this.view = view;
        return {
          update: (update: ViewUpdate) => {
            if (update.docChanged) this.schedule(60);
          },
        };
      }),
    ];
  }

  /** Others changed the part: fetches what is new, now or as soon as what is under way is done. */
  async pull(version: number) {
    this.newest = Math.max(this.newest, version);
    if (!this.busy) await this.push();
  }

  /** Asks for what is new: whoever opens a part or comes back may have missed the word of it. */
  async catchUp() {
    if (this.view) await this.pull(getSyncedVersion(this.view.state) + 1);
  }

  /** Sends at once what waits. */
  async flush() {
    window.clearTimeout(this.timer);
    await this.push();
  }

  close() {
    this.closed = true;
    window.clearTimeout(this.timer);
  }

  get waiting() {
    return this.view ? sendableUpdates(this.view.state).length : 0;
  }

  private schedule(delay: number) {
    this.report(false, '');
    window.clearTimeout(this.timer);
    this.timer = window.setTimeout(() => void this.push(), delay);
  }

  private receive(updates: Update[], version: number) {
    const view = this.view;
    if (!view || this.closed) return;
    const known = getSyncedVersion(view.state);
    // What came in the meantime by another way is not taken twice.
    const fresh = updates.slice(Math.max(0, updates.length - (version - known)));
    if (fresh.length === 0) return;
    const received = receiveUpdates(view.state, fresh);
    // Word that one's own changes are stored moves nothing, and must not close what is open at the cursor.
    if (received.changes.empty) {
      view.dispatch(received);
      return;
    }
    // What others insert right at the cursor comes after it, so that nobody's word is torn while two type at one place.
    const selection = view.state.selection.map(received.changes, -1);
    view.dispatch([received, received.state.update({ selection })]);
  }

  // One exchange after the other, until nothing waits here and nothing new is there.
  private async push(): Promise<void> {
    if (this.busy) return;
    this.busy = true;
    try {
      while (this.view && (this.waiting > 0 || this.newest > getSyncedVersion(this.view.state))) {
        await this.exchange(this.view);
        if (this.closed) break;
      }
      this.report(false, '');
    } catch (e) {
      const refusal = e as Refusal;
      this.report(refusal.status === 0, refusal.message);
      if (!this.closed && (refusal.status === 0 || refusal.status >= 500)) {
        this.timer = window.setTimeout(() => void this.push(), 2000);
      }
    } finally {
      this.busy = false;
    }
  }

  // Sends what waits; fetches what others did when nothing waits.
  private async exchange(view: EditorView) {
    const version = getSyncedVersion(view.state);
    const updates = sendableUpdates(view.state);
    if (updates.length === 0) {
      const heard = this.newest;
      const answer = await get<UpdatesAnswer>(`${this.path}/updates?since=${version}`);
      // Word of a still newer version may have come while the answer was on its way.
      if (this.newest === heard) this.newest = answer.version;
      this.receive(decode(answer), answer.version);
      return;
    }
    const answer = await post<UpdatesAnswer>(`${this.path}/updates`, {
      version,
      updates: updates.map((u) => ({ clientId: u.clientID, changes: u.changes.toJSON() as unknown })),
    });
    const taken = updates.map((u) => ({ clientID: u.clientID, changes: u.changes }));
    this.receive(answer.isTaken ? taken : decode(answer), answer.version);
  }

  private report(offline: boolean, problem: string) {
    this.onState({ waiting: this.waiting, offline, problem });
  }
}
