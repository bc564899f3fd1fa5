import type { Manuscript, ProofState } from '../api/client';
import {
  manuscriptPath,
  manuscriptQuery,
  ofThen,
  proofPath,
  proofQuery,
  queryClient,
  sessionQuery,
} from '../api/queries';
import { findKept, lastKnownSession } from './kept';

// It is old from the beginning: whoever shows it has it asked for.
const old = { updatedAt: 0 };

/** Until the server says who is signed in, it is whoever was here last. */
export async function showLastSession(): Promise<void> {
  const last = await lastKnownSession();
  if (last && !queryClient.getQueryData(sessionQuery.queryKey))
    queryClient.setQueryData(sessionQuery.queryKey, last, old);
}

/** Shows at once what this browser kept of a manuscript, of when that is; the server's answers take its place. */
export async function showKept(manuscript: number): Promise<void> {
  const [itself, proof] = await Promise.all([
    findKept<Manuscript>(manuscriptPath(manuscript)),
    findKept<ProofState>(proofPath(manuscript)),
  ]);
  const { queryKey } = manuscriptQuery(manuscript);
  if (itself && !queryClient.getQueryData(queryKey))
    queryClient.setQueryData(queryKey, { ...itself.body, asOf: itself.asOf }, old);
  const proofKey = proofQuery(manuscript).queryKey;
  if (proof && !queryClient.getQueryData(proofKey))
    queryClient.setQueryData(proofKey, ofThen(proof.body, proof.body.asOf ?? proof.asOf), old);
}
