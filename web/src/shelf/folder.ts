import { zip } from 'fflate';

/** The most files that are read out of a folder: more than a manuscript may have, so that the server says so. */
const Most = 20_000;

/** The folder among what was dropped, if there is one. It must be asked for while the drop is handled. */
export function folderIn(transfer: DataTransfer | null): FileSystemDirectoryEntry | null {
  for (const item of transfer?.items ?? []) {
    const entry = item.webkitGetAsEntry();
    if (entry?.isDirectory) return entry as FileSystemDirectoryEntry;
  }
  return null;
}

/** A history as git writes it, which is a manuscript, too. */
export const isHistory = (file: File) => /\.fast-export$/i.test(file.name);

/** A file alone as a .zip. */
export async function zippedAlone(file: File): Promise<File> {
  return packed(file.name.replace(/\.[^.]*$/, ''), { [file.name]: new Uint8Array(await file.arrayBuffer()) });
}

/** A folder with all that is in it as one .zip, as the server takes it. */
export async function zipped(folder: FileSystemDirectoryEntry): Promise<File> {
  const files: Record<string, Uint8Array> = {};
  await read(folder, '', files);
  return packed(folder.name, files);
}

async function packed(name: string, files: Record<string, Uint8Array>): Promise<File> {
  const bytes = await new Promise<Uint8Array<ArrayBuffer>>((resolve, reject) =>
    zip(files, { level: 1 }, (error, data) => (error ? reject(error) : resolve(data))),
  );
  return new File([bytes], `${name}.zip`, { type: 'application/zip' });
}

async function read(folder: FileSystemDirectoryEntry, path: string, files: Record<string, Uint8Array>) {
  const reader = folder.createReader();
  // A reader gives some at a time, and none at the end.
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
    if (some.length === 0) return;
    for (const entry of some) {
      const name = `${path}${entry.name}`;
      // Only that there is one counts.
      if (entry.isDirectory && /(^|\/)\.git\/objects$/.test(name)) continue;
      if (entry.isDirectory) await read(entry as FileSystemDirectoryEntry, `${name}/`, files);
      else if (Object.keys(files).length < Most) {
        const file = await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject));
        files[name] = new Uint8Array(await file.arrayBuffer());
      }
    }
  }
}
