/** Fewer lines of commas than this may be prose. */
const FewestLines = 3;

const hasOneCount = (lines: readonly string[], separator: string) => {
  const count = lines[0]!.split(separator).length;
  return count > 1 && lines.every((l) => l.split(separator).length === count);
};

const isNumber = (cell: string) => /^\s*"?[-−+]?\d[\d.,\s]*%?"?\s*$/.test(cell);

/** Whether pasted words are cells of a spreadsheet, or of a CSV file. */
export function isCells(text: string): boolean {
  const lines = text
    .replace(/\r/g, '')
    .split('\n')
    .filter((l) => l.trim() !== '');
  if (lines.length < 2) return false;
  if (text.includes('\t')) return !text.includes('\\') && hasOneCount(lines, '\t');
  // Prose has commas too: numbers below each other tell.
  const separator = [';', ','].find((s) => hasOneCount(lines, s));
  if (!separator || lines.length < FewestLines || /[\\{}]/.test(text)) return false;
  const rows = lines.slice(1).map((l) => l.split(separator));
  return rows[0]!.some((_, column) => rows.every((r) => isNumber(r[column]!)));
}
