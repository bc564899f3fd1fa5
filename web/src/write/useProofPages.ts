import { useCallback, useEffect, useRef, useState } from 'react';
import type { RoomMemory } from '../rooms/roomContext';
import { openProof, type ProofDocument } from './pdf';

/** The proof that is shown, with the size of its first page in points. */
export interface ShownProof {
  revision: number;
  document: ProofDocument;
  width: number;
  height: number;
}

export interface ProofPages {
  shown: ShownProof | null;
  /** Whether the pages in view are those of the wanted revision, and drawn. */
  isDrawn: boolean;
  problem: string;
  /** Notes that a sheet is being drawn; what it gives is called when it is drawn, or given up. */
  track: (sheet: number, revision: number) => () => void;
}

interface Wanted {
  revision: number;
  url: string;
}

const RetryAfter = 2000;

/** Pages that aren't drawn by then don't hold up newer ones; milliseconds. */
const DrawWithin = 2000;

/**
 * Fetches one proof after the other, each to the end, even if a newer one is wanted by then: or pages would stand still
 * while someone types on.
 */
export function useProofPages(manuscript: number, revision: number | null, memory: RoomMemory): ProofPages {
  // Back from another room, the last pages are there at once.
  const [shown, setShown] = useState<ShownProof | null>(() => memory.get('pages', null));
  const [round, setRound] = useState(0);
  const [drawn, setDrawn] = useState<number | null>(null);
  const [problem, setProblem] = useState('');
  const wanted = useRef<Wanted | null>(null);
  const fetched = useRef<number | null>(shown?.revision ?? null);
  const isFetching = useRef(false);
  const drawing = useRef(new Set<number>());
  const whenDrawn = useRef(() => {});
  const retry = useRef(0);

  useEffect(() => {
    wanted.current =
      revision === null ? null : { revision, url: `/api/manuscripts/${manuscript}/proof/pdf?revision=${revision}` };
    if (!wanted.current || isFetching.current) return;
    isFetching.current = true;
    const fetchWanted = async () => {
      try {
        for (let got = null as Wanted | null; wanted.current && got !== wanted.current;) {
          got = wanted.current;
          const document = await openProof(got.url);
          const { width, height } = (await document.getPage(1)).getViewport({ scale: 1 });
          if (!wanted.current) return void document.loadingTask.destroy();
          setProblem('');
          fetched.current = got.revision;
          drawing.current.clear();
          const next = { revision: got.revision, document, width, height };
          const before = memory.get<ShownProof | null>('pages', null);
          memory.set('pages', next);
          setShown(next);
          // The old pages stay drawn until the new ones are; only then is the old file let go.
          if (before) window.setTimeout(() => void before.document.loadingTask.destroy(), 4000);
          await new Promise<void>((resolve) => {
            whenDrawn.current = resolve;
            window.setTimeout(resolve, DrawWithin);
          });
        }
      } finally {
        isFetching.current = false;
      }
    };
    fetchWanted().catch(() => {
      if (!wanted.current) return;
      setProblem('The proof can’t be fetched just now; the last pages stay.');
      retry.current = window.setTimeout(() => setRound((n) => n + 1), RetryAfter);
    });
  }, [manuscript, revision, round, memory]);

  useEffect(
    () => () => {
      wanted.current = null;
      window.clearTimeout(retry.current);
    },
    [],
  );

  const track = useCallback((sheet: number, of: number) => {
    let isOver = false;
    // Sheets of an older proof don't count any more: a newer one takes their place.
    if (of === fetched.current) drawing.current.add(sheet);
    return () => {
      if (isOver || of !== fetched.current) return;
      isOver = true;
      drawing.current.delete(sheet);
      if (drawing.current.size > 0) return;
      setDrawn(of);
      whenDrawn.current();
    };
  }, []);

  return { shown, isDrawn: revision === null || drawn === revision, problem, track };
}
