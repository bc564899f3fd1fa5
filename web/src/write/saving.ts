import { useSyncExternalStore } from 'react';
import type { SaveState } from '../live/textSync';
import { useRoom } from '../rooms/roomContext';

const changes = (n: number, one: string, many: string) => `${n} ${n === 1 ? `change ${one}` : `changes ${many}`}`;

/** What is to be said of trouble with saving; empty when there is none. */
export function troubleOf(save: SaveState, connected: boolean): string {
  if (save.offline || !connected) {
    return save.waiting > 0
      ? changes(save.waiting, 'waits for the connection', 'wait for the connection')
      : 'no connection just now';
  }
  if (save.problem)
    return save.waiting > 0 ? changes(save.waiting, 'isn’t saved yet', 'aren’t saved yet') : 'not taken';
  return '';
}

/** Something of how saving stands. It changes several times a key: whoever shows only this is drawn anew only when this changes. */
export function useSaving<T extends string | number | boolean>(of: (save: SaveState, connected: boolean) => T): T {
  const { desk, connected } = useRoom();
  return useSyncExternalStore(desk.listen, () => of(desk.save, connected));
}
