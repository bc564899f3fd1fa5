import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import type { ProofState } from '../api/client';
import { proofQuery } from '../api/queries';
import type { Live } from '../live/live';
import type { RoomMemory } from '../rooms/roomContext';
import { SheetStore } from './sheetStore';

export interface Proof {
  /** The newest proof that is known here; null until the first one. */
  proof: ProofState | null;
  /** What is drawn on its pages. */
  sheets: SheetStore;
  /** Whether newer pages are on their way. */
  isBusy: boolean;
  /** Whether the last try to make newer pages failed: those that are here are of before. */
  hasFailed: boolean;
}

/** What is drawn on a manuscript's pages, for all of its rooms. */
export const sheetsOf = (memory: RoomMemory, manuscript: number) =>
  memory.make('sheets', () => new SheetStore(manuscript));

/** The proof as the server has it: what is known of it, and whether it is behind. */
export function useProof(live: Live, manuscript: number, memory: RoomMemory): Proof {
  const { data: proof = null, dataUpdatedAt, isError } = useQuery(proofQuery(manuscript));
  const [isBusy, setIsBusy] = useState(true);
  const [hasFailed, setHasFailed] = useState(false);
  // Back from another room, the pages are there at once.
  const [sheets] = useState(() => sheetsOf(memory, manuscript));
  /** Counts how often a newer proof was asked for, and how often by the time of the one that is here. */
  const asked = useRef(0);
  const seen = useRef(0);

  useEffect(() => {
    const off = [
      live.on('compiling', () => {
        asked.current++;
        setIsBusy(true);
        setHasFailed(false);
      }),
      live.on('proof', (news) => {
        seen.current = asked.current;
        setHasFailed(false);
        sheets.take(news.sheets);
      }),
      // While the connection was away a proof may have come that nobody told of: the one that is fetched now says.
      live.on('joined', () => (seen.current = asked.current)),
      live.on('failed', () => {
        setIsBusy(false);
        setHasFailed(true);
      }),
    ];
    return () => off.forEach((f) => f());
  }, [live, sheets]);

  useEffect(() => {
    // Something may have changed while this was on its way.
    if (proof && seen.current === asked.current) setIsBusy(proof.isBehind);
    // One that says the same as the one before counts too.
  }, [proof, dataUpdatedAt]);

  return { proof, sheets, isBusy: isBusy && !isError, hasFailed };
}
