import { useEffect, useEffectEvent } from 'react';
import type { HeldWords } from '../write/source/heldPlaces';
import { useRoom, type RoomMemory } from './roomContext';

/** Something that a room can do, by name. */
export interface Action {
  name: string;
  /** Its key, as it is bound. */
  key?: string;
  run: () => void;
}

/** A place of a text that one points at: the chosen words, or the page in view by what stands at its upper edge. */
export interface Pointing extends HeldWords {
  kind: 'passage' | 'page';
  file: number;
  /** Of a page its number. */
  target: string;
}

/** What a room lets be done from anywhere, for as long as one is in it. */
export interface RoomActions {
  actions: readonly Action[];
  /** Goes to a line of a file; without it the room's address has to do. */
  goTo?: (file: string, line: number) => void;
  /** Takes files that are dropped on a place that means something to the room; false: they are uploads like others. */
  takeDrop?: (files: File[], event: DragEvent) => boolean;
  /** What one points at in the room; null: nothing. */
  point?: (kind: Pointing['kind']) => Pointing | null;
}

const none: RoomActions = { actions: [] };

/** What can be done in the room that one is in. */
export const actionsOf = (memory: RoomMemory): RoomActions => memory.get('actions', none);

/** Lets what a room can do be reached by name while it is shown. The names have to stay the same list. */
export function useActions(
  names: readonly Omit<Action, 'run'>[],
  run: (name: string) => void,
  goTo?: RoomActions['goTo'],
  takeDrop?: RoomActions['takeDrop'],
  point?: RoomActions['point'],
) {
  const { memory } = useRoom();
  const act = useEffectEvent(run);
  const go = useEffectEvent((file: string, line: number) => goTo?.(file, line));
  const take = useEffectEvent((files: File[], event: DragEvent) => takeDrop?.(files, event) ?? false);
  const pointed = useEffectEvent((kind: Pointing['kind']) => point?.(kind) ?? null);
  const canGo = goTo !== undefined;
  const canPoint = point !== undefined;
  useEffect(() => {
    const own: RoomActions = {
      actions: names.map((a) => ({ ...a, run: () => act(a.name) })),
      goTo: canGo ? (file, line) => go(file, line) : undefined,
      takeDrop: (files, event) => take(files, event),
      point: canPoint ? (kind) => pointed(kind) : undefined,
    };
    memory.set('actions', own);
    return () => {
      if (memory.get('actions', none) === own) memory.set('actions', none);
    };
  }, [memory, names, canGo, canPoint]);
}
