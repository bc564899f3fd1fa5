import type { Text } from '@codemirror/state';
import type { Stretch } from '../source/blocks';

/** Larger pictures make every proof slow to fetch, in bytes. */
const LargestPicture = 30 * 1024 * 1024;

const kinds: Record<string, string> = {
  'image/png': 'png',
  'image/jpeg': 'jpg',
  'image/svg+xml': 'svg',
  'application/pdf': 'pdf',
};

const endingOf = (name: string) => /\.([a-z0-9]+)$/i.exec(name)?.[1]?.toLowerCase() ?? '';

/** Whether a file is meant as a picture, also of a kind that can't be set. */
export const isPicture = ({ name, type }: Pick<File, 'name' | 'type'>) =>
  type.startsWith('image/') ||
  type === 'application/pdf' ||
  /^(png|jpe?g|svg|pdf|gif|webp|tiff?|bmp|heic|eps)$/.test(endingOf(name));

/** Why a file can't be a picture of a manuscript; null when it can. Its first bytes tell what it is, whatever its name says. */
export async function obstacleTo(file: File): Promise<string | null> {
  if (file.size > LargestPicture)
    return `${file.name} has ${Math.round(file.size / 1024 / 1024)} MB; a picture may have ${LargestPicture / 1024 / 1024}. Make it smaller first: 300 dots an inch print sharply.`;
  const ending = kinds[file.type] ?? endingOf(file.name);
  if (!/^(png|jpe?g|svg|pdf)$/.test(ending))
    return `${file.name} is a picture of a kind that can’t be set. Save it as PNG, JPEG, PDF or SVG first.`;
  const bytes = new Uint8Array(await file.slice(0, 1024).arrayBuffer());
  const begins = (...wanted: number[]) => wanted.every((b, i) => bytes[i] === b);
  const isWhatItSays = {
    png: begins(0x89, 0x50, 0x4e, 0x47),
    jpg: begins(0xff, 0xd8),
    jpeg: begins(0xff, 0xd8),
    pdf: begins(0x25, 0x50, 0x44, 0x46),
    svg: new TextDecoder().decode(bytes).includes('<'),
  }[ending];
  return isWhatItSays ? null : `${file.name} isn’t what its name says, or it is damaged.`;
}

/** The path for a new picture: in the folder of figures, in letters that every machine knows, and not yet taken. */
export function pathOf({ name, type }: Pick<File, 'name' | 'type'>, taken: readonly string[]): string {
  const ending = kinds[type] ?? endingOf(name);
  const plain = name
    .replace(/\.[^.]*$/, '')
    .normalize('NFKD')
    .replace(/[^A-Za-z0-9_-]+/g, '-')
    .replace(/^-+|-+$/g, '');
  // Pictures from the clipboard are all called the same.
  const stem = plain === '' || plain === 'image' ? 'picture' : plain;
  const lower = new Set(taken.map((p) => p.toLowerCase()));
  for (let number = 1; ; number++) {
    const path = `figures/${stem}${number > 1 ? `-${number}` : ''}.${ending}`;
    if (!lower.has(path.toLowerCase())) return path;
  }
}

/** A figure with a picture: its caption is written first, then its label. */
export function figureTemplate(path: string): string {
  const key = /([^/]+)\.[^.]*$/.exec(path)![1]!;
  return [
    '\\begin{figure}[htbp]',
    '  \\centering',
    `  \\includegraphics[width=0.8\\linewidth]{${path}}`,
    '  \\caption{${}}',
    `  \\label{fig:\${${key}}}`,
    '\\end{figure}${}',
  ].join('\n');
}

/**
 * Where a figure or table goes that is put in at a place: an empty line there, or else behind the paragraph. `before` and `after` are
 * what parts it from its neighbours.
 */
export function placeForBlock(doc: Text, at: number): Stretch & { before: string; after: string } {
  let line = doc.lineAt(at);
  if (line.text.trim() === '') {
    const isFirst = line.number === 1 || doc.line(line.number - 1).text.trim() === '';
    const isLast = line.number === doc.lines || doc.line(line.number + 1).text.trim() === '';
    return { from: line.from, to: line.to, before: isFirst ? '' : '\n', after: isLast ? '' : '\n' };
  }
  const ends = (text: string) =>
    text.trim() === '' || /^\s*\\(end\s*\{document\}|(part|chapter|(sub)*section)\b)/.test(text);
  while (line.number < doc.lines && !ends(doc.line(line.number + 1).text)) line = doc.line(line.number + 1);
  const isLast = line.number === doc.lines || doc.line(line.number + 1).text.trim() === '';
  return { from: line.to, to: line.to, before: '\n\n', after: isLast ? '' : '\n' };
}
