import { get, getBlob, goOnAs, isUnreachable, session, type Session } from '../api/client';
import * as copies from './copyStore';

/** What is here of the server's state: its answer, or the last one that this browser kept, and then of when it is. */
export type Kept<T> = T & { asOf?: string };

/** After this time a kept answer is taken instead of one that doesn't come, in milliseconds. */
const Patience = 4000;

/** After this time what the browser keeps counts as not there, in milliseconds. */
const StorePatience = 2000;

// Whose copies are taken and kept; 0: nobody's. What is asked for before that is known waits with its copies.
let person = 0;
let sayKnown = () => {};
const isKnown = new Promise<void>((resolve) => (sayKnown = resolve));

/** Says so when the server has answered after all what was taken out of this browser meanwhile. */
export const lateAnswers = new EventTarget();

const manuscriptOf = (path: string) => Number(/^\/api\/manuscripts\/(\d+)/.exec(path)?.[1] ?? 0);

/**
 * The session; without a connection the one that was here last. Of whoever isn't signed in nothing is kept, and of nobody else
 * while someone is.
 */
export async function keptSession(): Promise<Kept<Session>> {
  try {
    const found = await session();
    await copies.keepOnly(found).catch(() => undefined);
    person = found.person?.id ?? 0;
    sayKnown();
    return found;
  } catch (e) {
    const last = isUnreachable(e) ? await lastKnownSession() : null;
    if (!last) throw e;
    return last;
  }
}

/** Goes on at once as whoever was here last, until the server says who is; null when nobody was. */
export async function lastKnownSession(): Promise<Kept<Session> | null> {
  const last = await copies.lastSession();
  if (!last?.person) return null;
  person = last.person.id;
  goOnAs(person);
  sayKnown();
  return { ...last, asOf: new Date().toISOString() };
}

/** What the server answers, which is kept; when it can't be reached, what it answered last. */
export const getKept = <T extends object>(path: string, signal?: AbortSignal): Promise<Kept<T>> =>
  ask<T>(path, get<T>(path, signal)).then(({ body, asOf }: { body: Kept<T>; asOf?: string }) =>
    asOf ? { ...body, asOf: body.asOf ?? asOf } : body,
  );

/** As getKept, for what isn't an object. */
export const getKeptList = <T>(path: string, signal?: AbortSignal): Promise<{ list: T[]; asOf?: string }> =>
  ask<T[]>(path, get<T[]>(path, signal)).then(({ body, asOf }) => ({ list: body, asOf }));

/** As getKept, for what never changes: it is asked for only when it isn't here. */
export const getOnce = async <T extends object>(path: string): Promise<T> =>
  (await find<T>(path))?.body ?? (await ask<T>(path, get<T>(path))).body;

/** As getOnce, for a file's bytes. */
export const getBlobOnce = async (path: string): Promise<Blob> =>
  (await find<Blob>(path))?.body ?? (await ask<Blob>(path, getBlob(path))).body;

/** What is kept under a path, and of when it is; null when nothing is. */
export const findKept = <T>(path: string) => isKnown.then(() => find<T>(path));

async function ask<T>(path: string, asked: Promise<T>): Promise<{ body: T; asOf?: string }> {
  const asker = person;
  // Whoever signs in next sees nothing of what was asked before.
  const copy = () => isKnown.then(() => (asker && asker !== person ? null : find<T>(path)));
  const answered = asked.then(
    (body) => {
      void isKnown.then(() => (!asker || asker === person ? keep(path, body) : undefined));
      return { body };
    },
    async (e: unknown) => {
      const kept = isUnreachable(e) ? await copy() : null;
      if (!kept) throw e;
      return kept;
    },
  );
  let timer = 0;
  const late = new Promise<null>((resolve) => (timer = window.setTimeout(() => resolve(null), Patience)));
  const first = await Promise.race([answered, late]);
  window.clearTimeout(timer);
  if (first) return first;
  const kept = await Promise.race([answered, copy()]);
  if (!kept) return answered;
  void answered.then(
    ({ body }) => body !== kept.body && lateAnswers.dispatchEvent(new Event('answer')),
    () => undefined,
  );
  return kept;
}

async function find<T>(path: string): Promise<{ body: T; asOf: string } | null> {
  if (!person) return null;
  // A store of the browser’s that doesn’t answer keeps nobody from asking the server.
  let timer = 0;
  const late = new Promise<null>((resolve) => (timer = window.setTimeout(() => resolve(null), StorePatience)));
  const copy = await Promise.race([copies.findCopy(person, path).catch(() => null), late]);
  window.clearTimeout(timer);
  if (!copy) return null;
  return { body: copy.body as T, asOf: copy.at };
}

/** Keeps what is known of the server's state under the path that it would be asked for with. */
export async function keep(path: string, body: unknown): Promise<void> {
  if (!person) return;
  const copy = { person, path, manuscript: manuscriptOf(path), at: new Date().toISOString(), body };
  // Without room for it, it isn't there without a connection; nothing else comes of it.
  await copies.putCopy(copy).catch(() => undefined);
}

/** What is kept of a manuscript, by path. */
export const keptPaths = (manuscript: number) => copies.pathsOf(person, manuscript);

export const dropKept = (paths: Iterable<string>) => copies.dropCopies(person, paths);

/** The manuscripts that can be opened without a connection, the one that was open last first. */
export const keptManuscripts = () => copies.openedLately(person);

/** The state of the data that what is kept of a manuscript is of. */
export const keptGeneration = (manuscript: number) => copies.generationOf(person, manuscript);

/** A manuscript is open: it is kept, and of those that were open longest ago some go. Nothing of another state of the data stays. */
export async function noteOpened(manuscript: number, generation: string, most: number): Promise<void> {
  const before = await copies.generationOf(person, manuscript);
  if (before !== null && before !== generation) await copies.dropManuscript(person, manuscript);
  await copies.noteOpened(person, manuscript, generation);
  for (const old of (await copies.openedLately(person)).slice(most)) await copies.dropManuscript(person, old);
}

/** A manuscript isn't this person's to see any more. */
export const forget = (manuscript: number) => copies.dropManuscript(person, manuscript).catch(() => undefined);

/** Of a person's manuscripts there are only these any more: what is kept of others goes. */
export async function forgetOthers(manuscripts: readonly number[]): Promise<void> {
  for (const id of await keptManuscripts()) if (!manuscripts.includes(id)) await forget(id);
}
