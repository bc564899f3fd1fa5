import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import type { ProofState } from '../api/client';
import { proofQuery } from '../api/queries';
import type { Live } from '../live/live';
import type { RoomMemory } from '../rooms/roomContext';
import { ProofWatch } from './proofWatch';
import { SheetStore } from './sheetStore';

export interface Proof {
  /** The newest proof that is known here; null until the first one. */
  proof: ProofState | null;
  /** What is drawn on its pages. */
  sheets: SheetStore;
  /** How its pages stand to what is written. */
  watch: ProofWatch;
}

/** What is drawn on a manuscript's pages, for all of its rooms. */
export const sheetsOf = (memory: RoomMemory, manuscript: number) =>
  memory.make('sheets', () => new SheetStore(manuscript));

/** The proof as the server has it: what is known of it, and whether it is behind. */
export function useProof(live: Live, manuscript: number, memory: RoomMemory): Proof {
  const { data: proof = null, dataUpdatedAt, isError } = useQuery(proofQuery(manuscript));
  // Back from another room, the pages are there at once.
  const [sheets] = useState(() => sheetsOf(memory, manuscript));
  const [watch] = useState(() => new ProofWatch());

  useEffect(() => {
    const off = [
      live.on('compiling', () => watch.compiling()),
      live.on('proof', (news) => {
        watch.told();
        sheets.take(news.sheets);
      }),
      // While the connection was away a proof may have come that nobody told of: the one that is fetched now says.
      live.on('joined', () => watch.caughtUp()),
      live.on('failed', () => watch.failed()),
    ];
    return () => off.forEach((f) => f());
  }, [live, sheets, watch]);

  useEffect(() => {
    if (proof) watch.arrived(proof.isBehind);
    if (isError) watch.unreachable();
    // One that says the same as the one before counts too.
  }, [proof, dataUpdatedAt, isError, watch]);

  return { proof, sheets, watch };
}
