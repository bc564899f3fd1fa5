import type { components } from './schema';

/** The server's types, generated from its OpenAPI document. */
export type Schema = components['schemas'];
export type Person = Schema['PersonView'];
export type Session = Schema['SessionView'];
export type ShelfEntry = Schema['ShelfEntry'];
export type Manuscript = Schema['ManuscriptView'];
export type Part = Schema['PartView'];
export type PartText = Schema['TextView'];
export type ProofState = Schema['ProofView'];
export type Report = Schema['CompileReport'];
export type Finding = Schema['FindingLine'];
export type OutlineLine = Schema['OutlineLine'];
export type UpdatesAnswer = Schema['UpdatesAnswer'];
export type PageSpot = Schema['PageSpot'];
export type SourcesState = Schema['SourcesView'];
export type SourceRow = Schema['SourceRow'];
export type SourceDetail = Schema['SourceDetail'];
export type SourceField = Schema['SourceField'];
export type SourceOffer = Schema['SourceOffer'];
export type OfferedSource = Schema['OfferedSource'];
export type SourceChange = Schema['SourceChange'];
export type ChangedSources = Schema['ChangedSources'];
export type UndoStep = Schema['UndoStep'];
export type Place = Schema['PlaceView'];

/** What the server refused, in its own words for people. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

/** Calls the server. Throws a Refusal with a message that can be shown. */
export async function call<T>(method: string, path: string, body?: unknown, signal?: AbortSignal): Promise<T> {
  const raw = body instanceof Blob;
  let response: Response;
  try {
    response = await fetch(path, {
      method,
      signal,
      headers: body === undefined || raw ? {} : { 'content-type': 'application/json' },
      body: body === undefined ? undefined : raw ? body : JSON.stringify(body),
    });
  } catch (e) {
    if (signal?.aborted) throw e;
    throw new Refusal(0, 'The server can’t be reached. Your changes stay here and go out when it is back.');
  }
  if (!response.ok) {
    const problem = (await response.json().catch(() => null)) as { message?: string } | null;
    throw new Refusal(response.status, problem?.message ?? 'That didn’t work. Try again.');
  }
  return (response.status === 204 ? null : await response.json()) as T;
}

export const get = <T>(path: string, signal?: AbortSignal) => call<T>('GET', path, undefined, signal);
export const post = <T>(path: string, body: unknown) => call<T>('POST', path, body);
