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
            if (update.docChanged) this.schedule(120);
          },
        };
      }),
    ];
  }

  /** Others changed the part: fetches what is new. */
  async pull(version: number) {
    const view = this.view;
    if (!view || this.closed || this.busy || version <= getSyncedVersion(view.state)) return;
    try {
      const answer = await get<UpdatesAnswer>(`${this.path}/updates?since=${getSyncedVersion(view.state)}`);
      this.receive(decode(answer), answer.version);
    } catch {
      this.schedule(2000);
    }
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
    if (fresh.length > 0) view.dispatch(receiveUpdates(view.state, fresh));
  }

  private async push(): Promise<void> {
    const view = this.view;
    if (!view || this.busy) return;
    const updates = sendableUpdates(view.state);
    if (updates.length === 0) return this.report(false, '');
    this.busy = true;
    try {
      const version = getSyncedVersion(view.state);
      const answer = await post<UpdatesAnswer>(`${this.path}/updates`, {
        version,
        updates: updates.map((u) => ({ clientId: u.clientID, changes: u.changes.toJSON() as unknown })),
      });
      if (answer.isTaken) {
        this.receive(
          updates.map((u) => ({ clientID: u.clientID, changes: u.changes })),
          answer.version,
        );
      } else {
        this.receive(decode(answer), answer.version);
      }
      this.busy = false;
      if (this.waiting > 0) return await this.push();
      this.report(false, '');
    } catch (e) {
      this.busy = false;
      const refusal = e as Refusal;
      this.report(refusal.status === 0, refusal.message);
      if (!this.closed && (refusal.status === 0 || refusal.status >= 500)) {
        this.timer = window.setTimeout(() => void this.push(), 2000);
      }
    }
  }

  private report(offline: boolean, problem: string) {
    this.onState({ waiting: this.waiting, offline, problem });
  }
}
