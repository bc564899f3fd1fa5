import { BookMarked, History, Inbox, Link2, PenLine, SlidersHorizontal, type LucideIcon } from 'lucide-react';
import { lazy, type ComponentType } from 'react';
import type { Role } from '../api/client';
import { handInQuery, queryClient, referencesQuery, setUpQuery, sourcesQuery } from '../api/queries';

/** A room of a manuscript. Its code is a folder of its own and comes when someone goes there. */
export interface Room {
  /** Its place in the address: `/m/7/write`. */
  path: string;
  ribbon: string;
  icon: LucideIcon;
  isFor: (role: Role) => boolean;
  /** Has its code fetched. */
  load: () => Promise<unknown>;
  /** Has what it shows first fetched. */
  ask?: (manuscript: number) => Promise<void>;
  Page: ComponentType;
}

/** The code of a room, fetched when it is wanted. */
const from = (load: () => Promise<{ default: ComponentType }>) => ({ load, Page: lazy(load) });

const everyone = () => true;

/** The rooms in the order of the work: what a room needs to be reached is its line here. */
export const rooms: readonly Room[] = [
  {
    path: 'set-up',
    ribbon: 'Set-up',
    icon: SlidersHorizontal,
    isFor: everyone,
    ask: (id) => queryClient.prefetchQuery(setUpQuery(id)),
    ...from(() => import('../setup/SetUpRoom')),
  },
  {
    path: 'write',
    ribbon: 'Write',
    icon: PenLine,
    isFor: everyone,
    ...from(() => import('../write/WriteRoom')),
  },
  {
    path: 'sources',
    ribbon: 'Sources',
    icon: BookMarked,
    isFor: everyone,
    ask: (id) => queryClient.prefetchQuery(sourcesQuery(id)),
    ...from(() => import('../sources/SourcesRoom')),
  },
  {
    path: 'cross-refs',
    ribbon: 'Cross-refs',
    icon: Link2,
    isFor: everyone,
    ask: (id) => queryClient.prefetchQuery(referencesQuery(id)),
    ...from(() => import('../references/CrossRefsRoom')),
  },
  {
    path: 'chronicle',
    ribbon: 'Chronicle',
    icon: History,
    isFor: everyone,
    ...from(() => import('../chronicle/ChronicleRoom')),
  },
  {
    path: 'hand-in',
    ribbon: 'Hand-in',
    icon: Inbox,
    isFor: everyone,
    ask: (id) => queryClient.prefetchQuery(handInQuery(id)),
    ...from(() => import('../handin/HandInRoom')),
  },
];

/** The room that a manuscript opens in. */
export const home = rooms.find((r) => r.path === 'write')!;

/** Has a room's code and what it shows first fetched side by side, for someone on the way there. What fails is said where it is shown. */
export function fetchAhead({ load, ask }: Room, manuscript: number) {
  load().catch(() => undefined);
  void ask?.(manuscript);
}

/** By then a room that was just opened shows what it has, in milliseconds. */
const Settled = 2000;

/** Has the code of every room fetched once the one that was opened is there; gives what calls it off. Not every browser says when it is idle. */
export function fetchLater(): () => void {
  const timer = window.setTimeout(() => void Promise.allSettled(rooms.map((r) => r.load())), Settled);
  return () => window.clearTimeout(timer);
}
