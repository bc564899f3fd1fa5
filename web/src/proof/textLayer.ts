import { runs, textOf, type Run, type SheetContent } from './sheet';

/** Shares of the size: from the baseline up to where a browser's line begins, a step between words, a step to another line. */
const Rise = 0.85;
const WordGap = 0.12;
const LineGap = 0.6;

/** Widths are measured at this size, in pixels. */
const Em = 100;
const face = 'serif';
const widths = new Map<string, number>();
let measuring: CanvasRenderingContext2D | null = null;

function widthOf(text: string): number {
  let known = widths.get(text);
  if (known === undefined) {
    measuring ??= document.createElement('canvas').getContext('2d');
    measuring!.font = `${Em}px ${face}`;
    known = measuring!.measureText(text).width;
    if (widths.size > 20_000) widths.clear();
    widths.set(text, known);
  }
  return known;
}

/** The words of a page as text that can't be seen: for selecting, finding and listening. `scale` is pixels a PDF point. */
export function fillTextLayer(host: HTMLElement, sheet: SheetContent, scale: number) {
  const fragment = document.createDocumentFragment();
  const all = runs(sheet).filter(({ run }) => textOf(run) !== '');
  all.forEach((current, i) => {
    const next = all[i + 1];
    const follows = next && stepTo(current, next);
    const span = document.createElement('span');
    span.textContent = textOf(current.run) + (follows === 'word' ? ' ' : '');
    span.style.cssText = styleOf(current, scale);
    fragment.append(span);
    if (follows === 'line') {
      const end = document.createElement('br');
      end.setAttribute('role', 'presentation');
      fragment.append(end);
    }
  });
  host.replaceChildren(fragment);
}

function styleOf({ run, matrix, size }: Run, scale: number): string {
  const k = scale / 100;
  const [a, b, c, d, e, f] = matrix;
  const natural = widthOf(textOf(run)) * (size / Em);
  const stretch = natural > 0 ? run[6] / natural : 1;
  const height = size * k;
  const isPlain = a === 1 && b === 0 && c === 0 && d === 1;
  const [x, y] = [run[1] * k, (run[2] - Rise * size) * k];
  const position = isPlain
    ? `left:${x.toFixed(1)}px;top:${y.toFixed(1)}px;transform:scaleX(${stretch.toFixed(4)})`
    : `left:0;top:0;transform:matrix(${a},${b},${c},${d},${e * k},${f * k}) translate(${x}px,${y}px) scaleX(${stretch})`;
  return `${position};font-size:${height.toFixed(2)}px`;
}

/** What comes between two rows: nothing, a space, or a line's end. */
export function stepTo({ run, size }: Run, { run: next }: Run): 'none' | 'word' | 'line' {
  const pen = run[1] + run[6];
  if (Math.abs(next[2] - run[2]) > LineGap * size || next[1] < pen - size) return 'line';
  return next[1] - pen > WordGap * size ? 'word' : 'none';
}
