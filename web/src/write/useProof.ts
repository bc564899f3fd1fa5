import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import type { ProofState } from '../api/client';
import { proofQuery } from '../api/queries';
import type { Live } from '../live/live';

export interface Proof {
  /** The newest report that is here; null until the first one. */
  report: ProofState | null;
  /** The revision of the newest pages; null until there are any. They are fetched at once, beside the report. */
  revision: number | null;
  /** Whether newer pages are on their way. */
  isBusy: boolean;
}

/** The proof as the server has it: what is known of it, and whether it is behind. */
export function useProof(live: Live, manuscript: number): Proof {
  const { data: report = null, dataUpdatedAt, isError } = useQuery(proofQuery(manuscript));
  const [heard, setHeard] = useState<number | null>(null);
  const [isBusy, setIsBusy] = useState(true);
  /** Counts how often a newer proof was asked for, and how often by the time of the report that is here. */
  const asked = useRef(0);
  const seen = useRef(0);

  useEffect(() => {
    const off = [
      live.on('compiling', () => {
        asked.current++;
        setIsBusy(true);
      }),
      live.on('proof', (revision) => {
        seen.current = asked.current;
        setHeard((r) => Math.max(r ?? 0, revision));
      }),
      // While the connection was away a proof may have come that nobody told of: the report that is fetched now says.
      live.on('joined', () => (seen.current = asked.current)),
      live.on('failed', () => setIsBusy(false)),
      live.on('restored', () => setHeard(null)),
    ];
    return () => off.forEach((f) => f());
  }, [live]);

  useEffect(() => {
    // Something may have changed while this was on its way.
    if (report && seen.current === asked.current) setIsBusy(report.isBehind);
    // A report that says the same as the one before counts too.
  }, [report, dataUpdatedAt]);

  const revision = report || heard !== null ? Math.max(heard ?? 0, report?.revision ?? 0) : null;
  return { report, revision, isBusy: isBusy && !isError };
}
