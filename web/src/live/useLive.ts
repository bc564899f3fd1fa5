import { hashKey, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { keys, rulesQuery, manuscriptQuery, proofQuery, sourcesQuery } from '../api/queries';
import { applied } from './difference';
import { Live, type LostWords, type Present } from './live';
import { staleness } from './staleness';
import { sendOrphans } from './textSync';

/** Others' typing changes what is cited and the pool; it is looked at this often at most, in milliseconds. */
const LookEvery = 400;

export interface LiveState {
  live: Live | null;
  present: Present[];
  connected: boolean;
  /** The manuscript is no longer this person's to see. */
  gone: boolean;
  /** Words that weren't taken; they stay until their writer lets them go. */
  lost: LostWords | null;
  letGo: () => void;
}

/** The live side of a manuscript for as long as one is in it. */
export function useLive(manuscript: number, person: number): LiveState {
  const [live, setLive] = useState<Live | null>(null);
  const [present, setPresent] = useState<Present[]>([]);
  const [connected, setConnected] = useState(true);
  const [gone, setGone] = useState(false);
  const [lost, setLost] = useState<LostWords | null>(null);
  useEffect(() => {
    const made = new Live(manuscript);
    setLive(made);
    const off = [
      made.on('present', setPresent),
      made.on('joined', () => {
        setConnected(true);
        void sendOrphans(made, person);
      }),
      made.on('lost', () => setConnected(false)),
      made.on('gone', () => setGone(true)),
      made.on('refused', setLost),
    ];
    return () => {
      off.forEach((f) => f());
      made.close();
      setLive(null);
    };
  }, [manuscript, person]);
  return { live, present, connected, gone, lost, letGo: () => setLost(null) };
}

/** What says of when an answer is. */
interface Dated {
  asOf?: string | null;
  isBehind?: boolean;
  revision?: number;
}

/** What is heard of others makes what is known of the manuscript stale: it is fetched anew where it is shown. */
export function useHearsay(live: Live | null, manuscript: number) {
  const client = useQueryClient();
  useEffect(() => {
    if (!live) return;
    const { stale, close } = staleness(client);
    let timer = 0;
    // What was fetched before one came in may have changed in between, and nobody told: each is looked at once, when it is there.
    const unchecked = new Map<readonly unknown[], readonly unknown[]>([
      // When the manuscript is of before, so may be all that belongs to it.
      [manuscriptQuery(manuscript).queryKey, keys.all(manuscript)],
      [proofQuery(manuscript).queryKey, keys.proof(manuscript)],
      [sourcesQuery(manuscript).queryKey, keys.sources(manuscript)],
    ]);
    const hashes = new Set([...unchecked.keys()].map((key) => hashKey(key)));
    let isFirst = true;
    const catchUp = () => {
      if (isFirst) return;
      for (const [queryKey, concerned] of unchecked) {
        const state = client.getQueryState<Dated>(queryKey);
        // What is on its way may be of before, too.
        if (!state?.data || state.fetchStatus !== 'idle') continue;
        unchecked.delete(queryKey);
        const { asOf, isBehind, revision = Infinity } = state.data;
        if (asOf || isBehind || revision < live.revision) stale(concerned);
      }
    };
    const off = [
      live.on('joined', () => {
        if (isFirst) {
          isFirst = false;
          catchUp();
          // These don't say of which revision they are: what was fetched for the room that the address names is fetched once more.
          stale(keys.setUp(manuscript), keys.references(manuscript), keys.handIn(manuscript));
          return;
        }
        // Nobody said what was missed: all of it is looked at once more.
        stale(keys.all(manuscript), rulesQuery.queryKey);
      }),
      client.getQueryCache().subscribe(({ query }) => {
        if (hashes.has(query.queryHash)) catchUp();
      }),
      live.on('people', () => stale(keys.manuscript(manuscript), keys.people(manuscript), keys.tokens(manuscript))),
      live.on('aids', () => stale(keys.writing(manuscript))),
      live.on('notes', () => stale(keys.notes(manuscript), keys.news(manuscript), keys.handIn(manuscript))),
      live.on('talk', () => stale(keys.talk(manuscript))),
      live.on('pins', () => stale(keys.chronicle(manuscript))),
      live.on('handedIn', () => stale(keys.handIn(manuscript), rulesQuery.queryKey)),
      live.on('files', () =>
        stale(keys.manuscript(manuscript), keys.deleted(manuscript), keys.sources(manuscript), keys.setUp(manuscript)),
      ),
      live.on('proof', (news) => {
        const { queryKey } = proofQuery(manuscript);
        const known = client.getQueryData(queryKey);
        // One of before the server was started anew is replaced as a whole.
        if (known && known.revision === news.from && !known.asOf && news.difference)
          client.setQueryData(queryKey, { ...applied(known, news.difference), isBehind: news.isBehind });
        else stale(keys.proof(manuscript));
        stale(
          keys.sources(manuscript),
          keys.references(manuscript),
          keys.chronicle(manuscript),
          keys.notes(manuscript),
          keys.handIn(manuscript),
        );
      }),
      // Another state's revisions may be lower.
      live.on('restored', () => void client.resetQueries({ queryKey: keys.proof(manuscript) })),
      live.on('updates', () => {
        timer ||= window.setTimeout(() => {
          timer = 0;
          stale(keys.sources(manuscript), keys.setUp(manuscript));
        }, LookEvery);
      }),
    ];
    return () => {
      window.clearTimeout(timer);
      off.forEach((f) => f());
      close();
      // From here on nobody tells of changes: whoever comes back sees what was there, and fetches it anew.
      void client.invalidateQueries({ queryKey: keys.all(manuscript), refetchType: 'none' });
    };
  }, [live, manuscript, client]);
}
