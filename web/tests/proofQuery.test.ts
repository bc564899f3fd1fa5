import { afterEach, describe, expect, it, vi } from 'vitest';
import type { ProofState } from '../src/api/client';
import { keys, proofQuery, queryClient } from '../src/api/queries';

let answer: (proof: Partial<ProofState>) => void;
vi.mock('../src/offline/kept', async (original) => ({
  ...(await original<typeof import('../src/offline/kept')>()),
  getKept: () => new Promise((done) => (answer = done as typeof answer)),
}));

const state = (revision: number, isBehind: boolean, asOf: string | null = null) =>
  ({ revision, isBehind, asOf }) as ProofState;

/** What is known after an answer has come, for which something else was told meanwhile. */
async function after(before: ProofState | undefined, told: ProofState | undefined, answered: Partial<ProofState>) {
  const key = keys.proof(7);
  if (before) queryClient.setQueryData(key, before);
  const fetching = queryClient.fetchQuery({ ...proofQuery(7), staleTime: 0 });
  if (told) queryClient.setQueryData(key, told);
  answer(answered);
  await fetching;
  return queryClient.getQueryData(key);
}

describe('a proof that was told of while an older answer was on its way', () => {
  afterEach(() => queryClient.clear());

  it('stays when it is newer, and when it is of the same revision', async () => {
    expect(await after(state(5, true), state(6, false), { revision: 5, isBehind: true })).toEqual(state(6, false));
    expect(await after(state(5, true), state(5, false), { revision: 5, isBehind: true })).toEqual(state(5, false));
  });

  it('gives way to what is newer still', async () => {
    expect(await after(state(5, true), state(5, false), { revision: 6, isBehind: true })).toEqual(state(6, true));
  });

  it('is the only one that stays: what was known before the question is replaced, of an earlier time always', async () => {
    expect(await after(state(5, true), undefined, { revision: 5, isBehind: false })).toEqual(state(5, false));
    expect(await after(state(5, false), undefined, { revision: 5, isBehind: true })).toEqual(state(5, true));
    expect(await after(state(9, true, 'yesterday'), undefined, { revision: 5, isBehind: false })).toEqual(
      state(5, false),
    );
  });
});
