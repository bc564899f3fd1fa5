import { openDB, type DBSchema, type IDBPDatabase, type IDBPTransaction } from 'idb';

/** What one tab typed into one file and isn't stored on the server yet, with the text that it was typed into. */
export interface UnsentRecord {
  clientId: string;
  manuscript: number;
  file: number;
  path: string;
  generation: string;
  version: number;
  base: string;
  updates: unknown[];
}

interface Schema extends DBSchema {
  unsent: { key: string; value: UnsentRecord; indexes: { manuscript: number } };
}

let opened: Promise<IDBPDatabase<Schema> | null> | null = null;

// A browser may forbid keeping anything, at once or later; then what isn't sent is lost with the tab.
const database = () => (opened ??= open().catch(() => null));

// Asynchronous, so that what is refused at once is refused like the rest.
async function open() {
  return await openDB<Schema>('young-folio', 2, {
    upgrade: (db, before, _, change) => {
      if (before < 1) db.createObjectStore('unsent', { keyPath: 'clientId' }).createIndex('manuscript', 'manuscript');
      else void nameFiles(change);
    },
  });
}

// Files were called parts at first; what was left unsent then goes out all the same.
async function nameFiles(change: IDBPTransaction<Schema, 'unsent'[], 'versionchange'>) {
  let record = await change.objectStore('unsent').openCursor();
  while (record) {
    const { part, ...rest } = record.value as UnsentRecord & { part?: number };
    if (part !== undefined) await record.update({ ...rest, file: part });
    record = await record.continue();
  }
}

export const keepUnsent = async (record: UnsentRecord) => void (await (await database())?.put('unsent', record));
export const dropUnsent = async (clientId: string) => void (await (await database())?.delete('unsent', clientId));

/** Takes a name for a tab and holds it for as long as the tab lives, so that others know that its records are in use. */
export function holdTab(clientId: string): () => void {
  let release = () => {};
  const held = new Promise<void>((resolve) => (release = resolve));
  if (navigator.locks) void navigator.locks.request(`folio ${clientId}`, () => held);
  else sessionStorage.setItem('folio.tab', clientId);
  return release;
}

/** What a person's tabs that are gone left unsent in a manuscript. Others may use this browser too. */
export async function orphans(manuscript: number, person: number): Promise<UnsentRecord[]> {
  const all = (await (await database())?.getAllFromIndex('unsent', 'manuscript', manuscript)) ?? [];
  const records = all.filter((r) => r.clientId.startsWith(`${person}:`));
  if (!navigator.locks) return records.filter((r) => r.clientId === sessionStorage.getItem('folio.tab'));
  const held = new Set((await navigator.locks.query()).held?.map((l) => l.name));
  return records.filter((r) => !held.has(`folio ${r.clientId}`));
}
