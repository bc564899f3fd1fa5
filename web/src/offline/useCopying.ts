import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { keys, manuscriptQuery, proofQuery, sourcesQuery } from '../api/queries';
import type { Live } from '../live/live';
import { sheetsOf } from '../proof/useProof';
import type { RoomMemory } from '../rooms/roomContext';
import type { TextDesk } from '../write/textDesk';
import { ManuscriptCopy } from './manuscriptCopy';

/** What is open is kept when nothing changed for so long, in milliseconds; while people go on typing, at least that often. */
const Quiet = 3000;
const AtLeastEvery = 20_000;

/** The text that one has before oneself is kept sooner: what was stored a moment ago must be there, whenever the connection goes. */
const TextAfter = 500;

/** Keeps the open manuscript in this browser, so that it opens again without a connection. */
export function useCopying(live: Live, manuscript: number, desk: TextDesk | null, memory: RoomMemory) {
  const client = useQueryClient();
  useEffect(() => {
    if (!desk) return;
    const copy = new ManuscriptCopy(manuscript, (file) => desk.stored(file));
    const texts = new Set<number>();
    let timer = 0;
    let textTimer = 0;
    let due = 0;
    let busy: Promise<void> | null = null;

    const take = async () => {
      const known = client.getQueryData(manuscriptQuery(manuscript).queryKey);
      const proof = client.getQueryData(proofQuery(manuscript).queryKey);
      const { generation } = live;
      if (!known || known.asOf || !proof || proof.asOf || !live.isOpen || generation === null) return;
      // Keys of sources are offered while writing.
      const pool = await client.ensureQueryData(sourcesQuery(manuscript));
      const sources = pool.asOf ? undefined : pool;
      await copy.take({ manuscript: known, proof, sources, sheets: sheetsOf(memory, manuscript), generation });
    };
    const begin = () => {
      timer = 0;
      due = 0;
      // What can't be fetched just now is kept next time.
      busy ??= take()
        .catch(() => undefined)
        .finally(() => (busy = null));
    };
    const soon = () => {
      due ||= Date.now() + AtLeastEvery;
      window.clearTimeout(timer);
      timer = window.setTimeout(begin, Math.min(Quiet, Math.max(0, due - Date.now())));
    };
    const takeTexts = () => {
      window.clearTimeout(textTimer);
      textTimer = 0;
      const changed = [...texts];
      texts.clear();
      for (const id of changed) void copy.takeOpen(id).catch(() => undefined);
    };

    const all = keys.all(manuscript);
    const off = [
      client.getQueryCache().subscribe(({ type, query }) => {
        const key = query.queryKey as readonly unknown[];
        if (type === 'updated' && all.every((part, i) => key[i] === part)) soon();
      }),
      live.on('updates', (file) => {
        texts.add(file);
        textTimer ||= window.setTimeout(takeTexts, TextAfter);
      }),
      live.on('joined', soon),
    ];
    // Also when the page goes: what is begun by then is carried out.
    window.addEventListener('pagehide', takeTexts);
    soon();
    return () => {
      off.forEach((f) => f());
      window.removeEventListener('pagehide', takeTexts);
      window.clearTimeout(timer);
      window.clearTimeout(textTimer);
    };
  }, [live, manuscript, desk, memory, client]);
}
