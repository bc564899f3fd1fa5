import { HubConnectionBuilder, HubConnectionState, LogLevel, type HubConnection } from '@microsoft/signalr';
import { tellSignedOut, type Schema } from '../api/client';
import type { Difference } from './difference';

/** Where someone is: the same as the server's Place. */
export interface Place {
  clientId: string;
  file: number | null;
  version: number;
  anchor: number;
  head: number;
  line: number;
}

/** Someone who is in the manuscript, in one tab. */
export interface Present {
  seat: string;
  person: Schema['PersonView'];
  place: Place | null;
}

/** An update as it travels. */
export interface SentUpdate {
  clientId: string;
  changes: unknown;
}

interface Joined {
  generation: string;
  seat: string;
  present: Present[];
  revision: number;
}

/** Says that a proof is there: the same as the server's ProofNews. */
export interface ProofNews {
  revision: number;
  /** Whether a newer one is on its way already. */
  isBehind: boolean;
  /** The revision of the proof that the difference is to; null: all of it has to be fetched. */
  from: number | null;
  difference: Difference | null;
  /** The first pages that are new, by their digests: each as another one with a difference. */
  sheets: Record<string, { from: string; difference: Difference }>;
}

export interface LiveEvents {
  updates: (file: number, version: number, updates: SentUpdate[]) => void;
  files: () => void;
  people: () => void;
  /** What is kept for those who write changed: words, goals, remarks that are left. */
  aids: () => void;
  /** Pins came, went, or have another name. */
  pins: () => void;
  handedIn: () => void;
  /** Margin notes came, went, were answered or settled. */
  notes: () => void;
  /** Something was said in the talk. */
  talk: () => void;
  compiling: () => void;
  proof: (news: ProofNews) => void;
  failed: () => void;
  present: (present: Present[]) => void;
  /** The connection is there (again): what was missed has to be fetched. */
  joined: (generation: string) => void;
  lost: () => void;
  /** The manuscript is no longer this person's to see. */
  gone: () => void;
  /** Another state of the data was put in place: nothing known holds. */
  restored: () => void;
  /** Words that the server doesn't take. */
  refused: (lost: LostWords) => void;
}

/** Words that the server doesn't take: whose tab's, what they are, and why. They are kept until their writer lets them go. */
export interface LostWords {
  clientId: string;
  words: string;
  why: string;
}

/** What the server refused, with what can be done about it. */
export class LiveRefusal extends Error {
  constructor(
    readonly code: 'refused' | 'behind' | 'full' | 'tab',
    message: string,
  ) {
    super(message);
  }
}

/** The server couldn't be asked. */
export class Offline extends Error {}

/** The live side of one manuscript: a connection that comes back by itself for as long as it is wanted. */
export class Live {
  private readonly hub: HubConnection;
  private readonly listeners: { [K in keyof LiveEvents]?: Set<LiveEvents[K]> } = {};
  private people = new Map<string, Present>();
  private seat = '';
  private closed = false;
  private attempts = 0;
  private timer = 0;
  private readonly underWay = new Set<Promise<unknown>>();
  generation: string | null = null;
  /** The manuscript's newest revision when one came in. */
  revision = 0;

  constructor(readonly manuscript: number) {
    this.hub = new HubConnectionBuilder()
      .withUrl('/hub')
      .configureLogging(LogLevel.None)
      // A torn connection says nothing; silence of ten seconds means one.
      .withServerTimeout(10_000)
      .withKeepAliveInterval(4000)
      .build();
    for (const event of [
      'updates',
      'files',
      'people',
      'aids',
      'pins',
      'handedIn',
      'notes',
      'talk',
      'compiling',
      'proof',
      'failed',
      'gone',
      'restored',
    ] as const) {
      this.hub.on(event, (...values: unknown[]) => this.tell(event, ...(values as never)));
    }
    // Coming in anew tells which state of the data there is now.
    this.hub.on('restored', () => void this.hub.stop());
    this.hub.on('here', (who: Present) => who.seat !== this.seat && this.seats((p) => p.set(who.seat, who)));
    this.hub.on('left', (seat: string) => this.seats((p) => p.delete(seat)));
    this.hub.onclose(() => {
      this.seats((p) => p.clear());
      this.tell('lost');
      this.retry();
    });
    window.addEventListener('online', this.now);
    window.addEventListener('offline', this.cut);
    void this.start();
  }

  get isOpen() {
    return this.hub.state === HubConnectionState.Connected && this.generation !== null;
  }

  on<K extends keyof LiveEvents>(event: K, listener: LiveEvents[K]): () => void {
    const all = (this.listeners[event] ??= new Set() as never) as Set<LiveEvents[K]>;
    all.add(listener);
    return () => void all.delete(listener);
  }

  /** Sends what a tab typed, as change sets; the file's version with it, once it is on the server's disk. */
  type = (file: number, version: number, clientId: string, updates: unknown[]) =>
    this.ask<number>(
      'Type',
      file,
      version,
      updates.map((changes) => ({ clientId, changes })),
    );

  /** What was typed into a file after a version. */
  since = (file: number, version: number) => this.ask<SentUpdate[]>('Since', file, version);

  /** Says where this tab is; nothing is lost if it isn't heard. */
  here(place: Place) {
    if (this.isOpen) this.hub.send('Here', place).catch(() => undefined);
  }

  /** Tells the room of words that weren't taken. */
  refuse = (lost: LostWords) => this.tell('refused', lost);

  present = () => [...this.people.values()];

  /** Ends, once what is under way has arrived. */
  close() {
    this.closed = true;
    window.clearTimeout(this.timer);
    window.removeEventListener('online', this.now);
    window.removeEventListener('offline', this.cut);
    window.setTimeout(() => {
      void Promise.allSettled(this.underWay).then(() => this.hub.stop().catch(() => undefined));
    });
  }

  private readonly now = () => {
    this.attempts = 0;
    window.clearTimeout(this.timer);
    void this.start();
  };

  private readonly cut = () => void this.hub.stop().catch(() => undefined);

  private async start() {
    if (this.closed || this.hub.state !== HubConnectionState.Disconnected) return;
    try {
      await this.hub.start();
      const joined = await this.hub.invoke<Joined>('Join', this.manuscript);
      if (this.closed) return;
      this.attempts = 0;
      this.generation = joined.generation;
      this.seat = joined.seat;
      this.people = new Map(joined.present.map((p) => [p.seat, p]));
      this.tell('present', this.present());
      this.revision = joined.revision;
      this.tell('joined', joined.generation);
    } catch (e) {
      if (/\b401\b/.test((e as Error).message)) tellSignedOut();
      if ((this.hub.state as HubConnectionState) === HubConnectionState.Connected)
        await this.hub.stop().catch(() => undefined);
      else {
        this.tell('lost');
        this.retry();
      }
    }
  }

  // At once, then ever more slowly, but never giving up: a laptop may sleep for a night.
  private retry() {
    if (this.closed) return;
    window.clearTimeout(this.timer);
    this.timer = window.setTimeout(() => void this.start(), Math.min(8000, 250 * 2 ** this.attempts++));
  }

  private seats(change: (people: Map<string, Present>) => void) {
    change(this.people);
    this.tell('present', this.present());
  }

  private tell<K extends keyof LiveEvents>(event: K, ...values: Parameters<LiveEvents[K]>) {
    for (const listener of this.listeners[event] ?? []) (listener as (...v: unknown[]) => void)(...values);
  }

  private async ask<T>(method: string, ...values: unknown[]): Promise<T> {
    if (!this.isOpen) throw new Offline();
    const asked = this.hub.invoke<T>(method, ...values);
    this.underWay.add(asked);
    try {
      return await asked;
    } catch (e) {
      const told = /HubException: (refused|behind|full|tab): (.*)$/s.exec((e as Error).message);
      if (told) throw new LiveRefusal(told[1] as LiveRefusal['code'], told[2]!);
      throw new Offline();
    } finally {
      this.underWay.delete(asked);
    }
  }
}
