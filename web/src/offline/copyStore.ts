import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import type { Session } from '../api/client';

/** What the server answered last to one question of one person's. */
export interface Copy {
  person: number;
  path: string;
  /** The manuscript that it is of; 0: of none. */
  manuscript: number;
  /** When it was answered. */
  at: string;
  body: unknown;
}

/** A manuscript that a person had open, and when. */
interface Opened {
  person: number;
  manuscript: number;
  at: string;
  /** The state of the data at that time. */
  generation: string;
}

interface Schema extends DBSchema {
  answers: { key: [number, string]; value: Copy; indexes: { manuscript: [number, number] } };
  opened: { key: [number, number]; value: Opened };
  /** Who is signed in in this browser, without what guards changes: that ends with the page. */
  session: { key: string; value: Session };
}

const Now = 'now';

let database: Promise<IDBPDatabase<Schema> | null> | null = null;

// A browser may forbid keeping anything: then there is nothing without a connection, and all else goes on.
const store = () => (database ??= open().catch(() => null));

// A function, so that what is refused at once is refused like the rest.
async function open() {
  return await openDB<Schema>('young-folio-copies', 1, {
    upgrade: (db) => {
      db.createObjectStore('answers', { keyPath: ['person', 'path'] }).createIndex('manuscript', [
        'person',
        'manuscript',
      ]);
      db.createObjectStore('opened', { keyPath: ['person', 'manuscript'] });
      db.createObjectStore('session');
    },
    // Another tab has a newer version of this page.
    blocking: (_old, _new, event) => (event.target as IDBDatabase).close(),
  });
}

/** The session that was here last; null when nobody is signed in in this browser. */
export const lastSession = async (): Promise<Session | null> =>
  (await (await store())?.get('session', Now).catch(() => undefined)) ?? null;

/** Notes who is signed in in this browser. What is kept of anyone else goes. */
export async function keepOnly(session: Session): Promise<void> {
  const db = await store();
  if (!db) return;
  const person = session.person?.id ?? 0;
  const change = db.transaction(['answers', 'opened', 'session'], 'readwrite');
  const others = [IDBKeyRange.upperBound([person], true), IDBKeyRange.lowerBound([person + 1])];
  await Promise.all([
    ...others.flatMap((range) => [
      change.objectStore('answers').delete(range),
      change.objectStore('opened').delete(range),
    ]),
    session.person
      ? change.objectStore('session').put({ ...session, guard: '' }, Now)
      : change.objectStore('session').delete(Now),
    change.done,
  ]);
}

export const findCopy = async (person: number, path: string): Promise<Copy | null> =>
  (await (await store())?.get('answers', [person, path]).catch(() => undefined)) ?? null;

/**
 * Writes what is a person's, if that person is signed in still: a tab that was at work when another one signed out would leave
 * something behind otherwise.
 */
async function putOwn<Name extends 'answers' | 'opened'>(name: Name, value: Schema[Name]['value']): Promise<void> {
  const db = await store();
  if (!db) return;
  const change = db.transaction([name, 'session'], 'readwrite');
  const put = async () => {
    const now = await change.objectStore('session').get(Now);
    if (now?.person?.id === value.person) await change.objectStore(name).put(value);
  };
  await Promise.all([put(), change.done]);
}

/** Keeps a copy. When the browser has no room, what was open longest ago goes for it. */
export async function putCopy(copy: Copy): Promise<void> {
  try {
    await putOwn('answers', copy);
  } catch (e) {
    if ((e as DOMException).name !== 'QuotaExceededError') throw e;
    const [oldest] = (await openedLately(copy.person)).filter((o) => o !== copy.manuscript).slice(-1);
    if (oldest === undefined) throw e;
    await dropManuscript(copy.person, oldest);
    await putOwn('answers', copy);
  }
}

/** What is kept of a manuscript, by path. */
export async function pathsOf(person: number, manuscript: number): Promise<Set<string>> {
  const found = await (await store())?.getAllKeysFromIndex('answers', 'manuscript', [person, manuscript]);
  return new Set(found?.map(([, path]) => path));
}

export async function dropCopies(person: number, paths: Iterable<string>): Promise<void> {
  const db = await store();
  if (!db) return;
  const change = db.transaction('answers', 'readwrite');
  await Promise.all([...[...paths].map((path) => change.store.delete([person, path])), change.done]);
}

export async function noteOpened(person: number, manuscript: number, generation: string): Promise<void> {
  await putOwn('opened', { person, manuscript, at: new Date().toISOString(), generation });
}

export const generationOf = async (person: number, manuscript: number): Promise<string | null> =>
  (await (await store())?.get('opened', [person, manuscript]))?.generation ?? null;

/** The manuscripts of a person's that are kept, the one that was open last first. */
export async function openedLately(person: number): Promise<number[]> {
  const all = (await (await store())?.getAll('opened', IDBKeyRange.bound([person], [person + 1], false, true))) ?? [];
  return all.sort((a, b) => b.at.localeCompare(a.at)).map((o) => o.manuscript);
}

/** Lets go of all that is kept of a manuscript. */
export async function dropManuscript(person: number, manuscript: number): Promise<void> {
  await dropCopies(person, await pathsOf(person, manuscript));
  await (await store())?.delete('opened', [person, manuscript]);
}
