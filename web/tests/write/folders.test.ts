import { expect, test } from 'vitest';
import { inFolders, movedTo, type Folder } from '../../src/write/folders';

const shown = ({ name, folders, files }: Folder): unknown => [
  name,
  ...folders.map(shown),
  ...files.map((f) => f.path.split('/').at(-1)),
];

test('files stand in their folders, in order, also where a folder holds folders alone', () => {
  const files = ['main.tex', 'b/c/two.tex', 'a/one.tex', 'b/c/one.tex', 'b/three.tex', 'Ä/x.tex'].map((path, id) => ({
    id,
    path,
    isText: true,
    version: 0,
  }));
  expect(shown(inFolders(files))).toEqual([
    '',
    ['a', 'one.tex'],
    ['Ä', 'x.tex'],
    ['b', ['c', 'one.tex', 'two.tex'], 'three.tex'],
    'main.tex',
  ]);
  expect(inFolders([]).files).toEqual([]);
});

test('a file keeps its name in another folder', () => {
  expect(movedTo('a/b/x.tex', 'c')).toBe('c/x.tex');
  expect(movedTo('a/x.tex', '')).toBe('x.tex');
  expect(movedTo('x.tex', '')).toBe('x.tex');
});
