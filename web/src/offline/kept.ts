import { get, getBlob, goOnAs, isUnreachable, session, type Session } from '../api/client';
import * as copies from './copyStore';

/** What is here of the server's state: its answer, or the last one that this browser kept, and then of when it is. */
export type Kept<T> = T & { asOf?: string };

/** After this time a kept answer is taken instead of one that doesn't come, in milliseconds. */
const Patience = 4000;

let person = 0;

/** Manuscripts of which something was shown out of this browser: what it is of has to be asked for anew. */
const shownFromCopy = new Set<number>();

/** Says so when the server has answered after all what was taken out of this browser meanwhile. */
export const lateAnswers = new EventTarget();

const manuscriptOf = (path: string) => Number(/^\/api\/manuscripts\/(\d+)/.exec(path)?.[1] ?? 0);

/** Whether anything of a manuscript was shown out of this browser since this was asked last. */
export const wasFromCopy = (manuscript: number) => shownFromCopy.delete(manuscript);

/**
 * The session; without a connection the one that was here last. Of whoever isn't signed in nothing is kept, and of nobody else
 * while someone is.
 */
export async function keptSession(): Promise<Kept<Session>> {
  try {
    const found = await session();
    await copies.keepOnly(found).catch(() => undefined);
    person = found.person?.id ?? 0;
    return found;
  } catch (e) {
    const last = isUnreachable(e) ? await copies.lastSession() : null;
    if (!last?.person) throw e;
    person = last.person.id;
    goOnAs(person);
    return { ...last, asOf: new Date().toISOString() };
  }
}

/** What the server answers, which is kept; when it can't be reached, what it answered last. */
export const getKept = <T extends object>(path: string, signal?: AbortSignal): Promise<Kept<T>> =>
  ask<T>(path, get<T>(path, signal)).then(({ body, asOf }: { body: Kept<T>; asOf?: string }) =>
    asOf ? { ...body, asOf: body.asOf ?? asOf } : body,
  );

/** As getKept, for what isn't an object. */
export const getKeptList = <T>(path: string, signal?: AbortSignal): Promise<{ list: T[]; asOf?: string }> =>
  ask<T[]>(path, get<T[]>(path, signal)).then(({ body, asOf }) => ({ list: body, asOf }));

/** As getKept, for a file's bytes. */
export const getKeptBlob = (path: string): Promise<Blob> => ask<Blob>(path, getBlob(path)).then(({ body }) => body);

async function ask<T>(path: string, asked: Promise<T>): Promise<{ body: T; asOf?: string }> {
  const asker = person;
  const answered = asked.then(
    (body) => {
      // Whoever signs in next sees nothing of what was asked before.
      if (asker && asker === person) void keep(path, body);
      return { body };
    },
    async (e: unknown) => {
      const copy = isUnreachable(e) ? await find<T>(asker, path) : null;
      if (!copy) throw e;
      return copy;
    },
  );
  let timer = 0;
  const late = new Promise<null>((resolve) => (timer = window.setTimeout(() => resolve(null), Patience)));
  const first = await Promise.race([answered, late]);
  window.clearTimeout(timer);
  if (first) return first;
  const copy = await find<T>(asker, path);
  if (!copy) return answered;
  void answered.then(
    ({ body }) => body !== copy.body && lateAnswers.dispatchEvent(new Event('answer')),
    () => undefined,
  );
  return copy;
}

async function find<T>(asker: number, path: string): Promise<{ body: T; asOf: string } | null> {
  const copy = asker ? await copies.findCopy(asker, path).catch(() => null) : null;
  if (!copy) return null;
  shownFromCopy.add(copy.manuscript);
  return { body: copy.body as T, asOf: copy.at };
}

/** Keeps what is known of the server's state under the path that it would be asked for with. */
export async function keep(path: string, body: unknown): Promise<void> {
  if (!person) return;
  const copy = { person, path, manuscript: manuscriptOf(path), at: new Date().toISOString(), body };
  // Without room for it, it isn't there without a connection; nothing else comes of it.
  await copies.putCopies([copy]).catch(() => undefined);
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
