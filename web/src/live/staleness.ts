import type { QueryClient } from '@tanstack/react-query';

/**
 * Makes what is known stale, so that it is fetched anew where it is shown. What is on its way for the first time may be of before
 * what was heard, and asking again while it is wouldn't be heeded: it is fetched once more when it has come.
 */
export function staleness(client: QueryClient) {
  const overtaken = new Set<string>();
  const stale = (...keys: (readonly unknown[])[]) => {
    for (const queryKey of keys) {
      for (const { queryHash, state } of client.getQueryCache().findAll({ queryKey }))
        if (state.data === undefined && state.fetchStatus !== 'idle') overtaken.add(queryHash);
      void client.invalidateQueries({ queryKey });
    }
  };
  const close = client.getQueryCache().subscribe(({ query }) => {
    if (query.state.data !== undefined && overtaken.delete(query.queryHash))
      stale(query.queryKey as readonly unknown[]);
  });
  return { stale, close };
}
