import type { ManuscriptFile } from '../api/client';

/** A folder of a manuscript's files. */
export interface Folder {
  path: string;
  name: string;
  folders: Folder[];
  files: ManuscriptFile[];
}

/** Files in their folders; both by name. The folder above all has no name. */
export function inFolders(files: readonly ManuscriptFile[]): Folder {
  const root: Folder = { path: '', name: '', folders: [], files: [] };
  const known = new Map([['', root]]);
  const folderOf = (path: string): Folder => {
    const there = known.get(path);
    if (there) return there;
    const cut = path.lastIndexOf('/');
    const folder: Folder = { path, name: path.slice(cut + 1), folders: [], files: [] };
    known.set(path, folder);
    folderOf(path.slice(0, Math.max(0, cut))).folders.push(folder);
    return folder;
  };
  for (const file of [...files].sort((a, b) => a.path.localeCompare(b.path)))
    folderOf(file.path.slice(0, Math.max(0, file.path.lastIndexOf('/')))).files.push(file);
  return root;
}

/** The path of a file in another folder. */
export const movedTo = (path: string, folder: string) =>
  (folder === '' ? '' : `${folder}/`) + path.slice(path.lastIndexOf('/') + 1);
