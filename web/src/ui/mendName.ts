import type { Repair } from '../api/client';

const Longest = 22;

const brief = (text: string) => {
  const line = text.trim().split('\n')[0]!;
  return line.length > Longest ? `${line.slice(0, Longest - 1)}…` : line;
};

/** What a mend does, as its button says it. */
export function mendName(repair: Pick<Repair, 'text' | 'words'> & Partial<Pick<Repair, 'also' | 'newFile'>>): string {
  const { text, words, also, newFile } = repair;
  if (newFile) return `Make ${newFile}`;
  if (also && text === '') return also.text.startsWith('\\usepackage') ? 'Move it up' : `Move ${brief(words)} down`;
  if (text === '') return words.startsWith('\\label{') ? 'Delete the label' : `Delete ${brief(words)}`;
  const loaded = /^\\usepackage\{([^}]*)\}\s*$/.exec(text);
  if (loaded && words === '') return `Load ${loaded[1]}`;
  return words === '' ? `Put ${brief(text)} here` : `Write ${brief(text)}`;
}

/** As mendName, for what becomes of a whole field of a source. */
export const fieldMendName = (value: string): string => (value === '' ? 'Empty the field' : `Write ${brief(value)}`);
