import type { components } from './schema';

/** The server's types, generated from its OpenAPI document. */
export type Schema = components['schemas'];
export type Person = Schema['PersonView'];
export type Session = Schema['SessionView'];
export type ShelfEntry = Schema['ShelfEntry'];
export type Manuscript = Schema['ManuscriptView'];
export type ManuscriptFile = Schema['FileView'];
export type DeletedFile = Schema['DeletedFileView'];
export type FileText = Schema['TextView'];
export type ProofState = Schema['ProofView'];
export type Report = Schema['CompileReport'];
export type Finding = Schema['FindingLine'];
export type Repair = Schema['RepairLine'];
export type OutlineLine = Schema['OutlineLine'];
export type FirstPage = Schema['FirstPageView'];
export type ProofSheets = Schema['ProofSheets'];
export type SheetEntry = Schema['SheetEntry'];
export type SourcesState = Schema['SourcesView'];
export type SourceRow = Schema['SourceRow'];
export type SourceDetail = Schema['SourceDetail'];
export type SourceField = Schema['SourceField'];
export type SourceOffer = Schema['SourceOffer'];
export type OfferedSource = Schema['OfferedSource'];
export type SourceChange = Schema['SourceChange'];
export type ChangedSources = Schema['ChangedSources'];
export type UndoStep = Schema['UndoStep'];
export type Role = Schema['Role'];
export type News = Schema['NewsList'];
export type NewsItem = Schema['NewsView'];
export type People = Schema['PeopleView'];
export type Member = Schema['MemberView'];
export type Outbox = Schema['OutboxView'];
export type Token = Schema['TokenView'];
export type IssuedToken = Schema['IssuedToken'];
export type Offer = Schema['OfferView'];
export type TakenInvitation = Schema['TakenInvitation'];
export type BroughtIn = Schema['BroughtIn'];

/** What the server refused, in its own words for people. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

// Goes with everything that changes something, so that no other site can act in a person's name.
let guard = '';

const signedOut = new EventTarget();

/** The session ended: here, in another tab, or elsewhere by another password. */
export const tellSignedOut = () => void signedOut.dispatchEvent(new Event('out'));

/** Hears when the session ends; gives what ends the hearing. */
export function onSignedOut(listener: () => void): () => void {
  signedOut.addEventListener('out', listener);
  return () => signedOut.removeEventListener('out', listener);
}

/** The session; with it comes what has to go along with every change. */
export async function session(): Promise<Session> {
  const found = await call<Session>('GET', '/api/session');
  guard = found.guard;
  return found;
}

/** Calls the server. Throws a Refusal with a message that can be shown. */
export async function call<T>(method: string, path: string, body?: unknown, signal?: AbortSignal): Promise<T> {
  let response = await ask(method, path, body, signal);
  if (
    response.status === 400 &&
    (
      (await response
        .clone()
        .json()
        .catch(() => null)) as Problem
    )?.code === 'guard'
  ) {
    // Someone signed in or out in another tab: with a new value it goes through.
    await session();
    response = await ask(method, path, body, signal);
  }
  if (response.status === 401) tellSignedOut();
  if (!response.ok) {
    const problem = (await response.json().catch(() => null)) as Problem;
    throw new Refusal(response.status, problem?.message ?? 'That didn’t work. Try again.');
  }
  return (response.status === 204 ? null : await response.json()) as T;
}

type Problem = { message?: string; code?: string } | null;

async function ask(method: string, path: string, body: unknown, signal?: AbortSignal): Promise<Response> {
  const raw = body instanceof Blob;
  const headers: Record<string, string> = method === 'GET' ? {} : { 'folio-guard': guard };
  if (body !== undefined && !raw) headers['content-type'] = 'application/json';
  try {
    return await fetch(path, {
      method,
      signal,
      headers,
      body: body === undefined ? undefined : raw ? body : JSON.stringify(body),
    });
  } catch (e) {
    if (signal?.aborted) throw e;
    throw new Refusal(0, 'The server can’t be reached. Your changes stay here and go out when it is back.');
  }
}

export const get = <T>(path: string, signal?: AbortSignal) => call<T>('GET', path, undefined, signal);
export const post = <T>(path: string, body: unknown) => call<T>('POST', path, body);
