import { unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { folderIn, zipped } from '../../src/shelf/folder';

const file = (name: string, words: string) =>
  ({
    name,
    isDirectory: false,
    file: (take: (f: File) => void) => take(new File([words], name)),
  }) as unknown as FileSystemEntry;
/** A folder that gives its entries two at a time, as browsers give some at a time. */
const folder = (name: string, entries: FileSystemEntry[]) =>
  ({
    name,
    isDirectory: true,
    createReader: () => {
      let at = 0;
      return { readEntries: (take: (some: FileSystemEntry[]) => void) => take(entries.slice(at, (at += 2))) };
    },
  }) as unknown as FileSystemDirectoryEntry;

describe('a dropped folder', () => {
  it('becomes one .zip with all that is in it', async () => {
    const dropped = folder('draft', [
      file('main.tex', 'a'),
      file('b.bib', 'b'),
      folder('figures', [file('x.png', 'x')]),
      file('c', ''),
    ]);
    const made = await zipped(dropped);
    expect(made.name).toBe('draft.zip');
    const inside = unzipSync(new Uint8Array(await made.arrayBuffer()));
    expect(Object.entries(inside).map(([name, bytes]) => [name, new TextDecoder().decode(bytes)])).toEqual([
      ['main.tex', 'a'],
      ['b.bib', 'b'],
      ['figures/x.png', 'x'],
      ['c', ''],
    ]);
  });

  it('is found among what was dropped', () => {
    const transfer = (entries: unknown[]) =>
      ({ items: entries.map((e) => ({ webkitGetAsEntry: () => e })) }) as unknown as DataTransfer;
    expect(folderIn(transfer([null, file('a', ''), folder('d', [])]))?.name).toBe('d');
    expect(folderIn(transfer([file('a', '')]))).toBeNull();
    expect(folderIn(null)).toBeNull();
  });
});
