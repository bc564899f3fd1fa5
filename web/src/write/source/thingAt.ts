/** So far around a place a formula may begin or end, in signs. */
const Reach = 4000;

const displayed =
  /\\begin\{(equation|align|alignat|flalign|gather|multline|eqnarray|displaymath|math)(\*?)\}[\s\S]*?\\end\{\1\2\}/g;
const pictures = /\\include(?:graphics|svg|pdf)\*?\s*(?:\[[^\]]*\]\s*)*\{[^}]*\}/g;
const inline = /\\[\s\S]|%[^\n]*|\$\$?|\n[ \t]*\n/g;

/** What stands at a place of a text: the formula around it, the picture, or else the word; null where there is nothing. */
export function thingAt(text: string, place: number): { from: number; to: number } | null {
  const begin = Math.max(0, place - Reach);
  const around = text.slice(begin, place + Reach);
  const at = place - begin;
  for (const pattern of [displayed, pictures])
    for (const { index, 0: found } of around.matchAll(pattern))
      if (index <= at && at < index + found.length) return { from: begin + index, to: begin + index + found.length };
  const formula = formulaAround(around, at);
  if (formula) return { from: begin + formula.from, to: begin + formula.to };
  const before = /[\p{L}\p{N}]*$/u.exec(around.slice(0, at))![0].length;
  const after = /^[\p{L}\p{N}]*/u.exec(around.slice(at))![0].length;
  if (before + after > 0) return { from: place - before, to: place + after };
  // A sign alone, such as one that is written as a command.
  return around[at]?.trim() ? { from: place, to: place + 1 } : null;
}

/** A formula between dollars, or such brackets, in one paragraph. */
function formulaAround(text: string, at: number): { from: number; to: number } | null {
  // Whether a dollar opens or closes is known from the paragraph’s beginning.
  const start = Math.max(0, text.slice(0, at).search(/\n[ \t]*\n(?![\s\S]*\n[ \t]*\n)/));
  let open: { from: number; until: string } | null = null;
  for (const { index, 0: sign } of text.slice(start).matchAll(inline)) {
    const here = start + index;
    if (sign.startsWith('\n')) {
      if (here > at) return null;
      open = null;
    } else if (open) {
      if (sign !== open.until) continue;
      if (open.from <= at && at < here + sign.length) return { from: open.from, to: here + sign.length };
      open = null;
    } else if (here > at) return null;
    else if (sign === '$' || sign === '$$') open = { from: here, until: sign };
    else if (sign === '\\(') open = { from: here, until: '\\)' };
    else if (sign === '\\[') open = { from: here, until: '\\]' };
  }
  return null;
}

/** The picture that words around it belong to: the nearest in the figure of the first of them that stand in one; null where none does. */
export function pictureOf(text: string, places: readonly number[]): { from: number; to: number } | null {
  for (const place of places) {
    const begin = text.lastIndexOf('\\begin{figure', place);
    const end = begin < 0 ? -1 : text.indexOf('\\end{figure', begin);
    if (end < place) continue;
    const found = [...text.slice(begin, end).matchAll(pictures)].map((m) => ({
      from: begin + m.index,
      to: begin + m.index + m[0].length,
    }));
    // Of several beside each other the one whose words these are stands before them.
    const own = found.findLast((f) => f.from <= place) ?? found[0];
    if (own) return own;
  }
  return null;
}
