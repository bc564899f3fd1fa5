import { createContext, use, useCallback, useSyncExternalStore } from 'react';
import type { Manuscript, Person } from '../api/client';
import type { Live, Present } from '../live/live';
import type { TextDesk } from '../write/textDesk';

/** What every room of a manuscript has at hand. */
export interface RoomState {
  manuscript: Manuscript;
  person: Person;
  canWrite: boolean;
  live: Live;
  /** The others, and oneself in other tabs. */
  present: Present[];
  connected: boolean;
  /** The texts that are open; they stay so while one is in another room. */
  desk: TextDesk;
  memory: RoomMemory;
  /** Puts files among the manuscript's; what is there already is asked about. */
  upload: (files: Iterable<File>, folder?: string) => void;
}

export const RoomContext = createContext<RoomState | null>(null);

/** What every room of a manuscript has at hand; only within one. */
export function useRoom(): RoomState {
  const room = use(RoomContext);
  if (!room) throw new Error('A room stands within a manuscript.');
  return room;
}

/** What a room keeps for when one comes back to it, for as long as the manuscript is open. */
export class RoomMemory {
  private readonly values = new Map<string, unknown>();
  private readonly listeners = new Set<() => void>();

  get<T>(name: string, initial: T): T {
    return this.values.has(name) ? (this.values.get(name) as T) : initial;
  }

  /** As get, but what isn't there yet is made and kept. */
  make<T>(name: string, create: () => T): T {
    if (!this.values.has(name)) this.values.set(name, create());
    return this.values.get(name) as T;
  }

  set(name: string, value: unknown) {
    this.values.set(name, value);
    this.listeners.forEach((told) => told());
  }

  listen = (told: () => void) => {
    this.listeners.add(told);
    return () => void this.listeners.delete(told);
  };
}

/** State of a room that is there again when one comes back to it. */
export function useRemembered<T>(name: string, initial: T): [T, (value: T) => void] {
  const { memory } = useRoom();
  const value = useSyncExternalStore(memory.listen, () => memory.get(name, initial));
  const set = useCallback((next: T) => memory.set(name, next), [memory, name]);
  return [value, set];
}

/** Under which name a room's address is remembered. */
export const addressOf = (room: string) => `address of ${room}`;
