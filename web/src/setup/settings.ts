import type { PageLook, Setting } from '../api/client';

/** What a setting is: said, or as usual. */
export const valueOf = (setting: Setting | undefined) => setting?.value ?? setting?.usual ?? null;

/** Whether a setting has an effect here, and is shown. */
export function isShown(setting: Setting, all: ReadonlyMap<string, Setting>): boolean {
  const { id, within } = setting;
  if (within) {
    const [other, wanted] = within.split('=') as [string, string];
    if (valueOf(all.get(other)) !== wanted) return false;
  }
  const isTwoSided = isBothSides(all);
  // Fields of heads and feet: one for all pages, or one for each side.
  const field = /^(?:head|foot)[LCR]([OE]?)$/.exec(id);
  if (field) return (field[1] === '') !== isTwoSided;
  const hasChapters = ['report', 'book', 'scrreprt', 'scrbook'].includes(all.get('class')?.value ?? '');
  if (id === 'open') return hasChapters;
  // Where the margins give the text's size these are one thing too many.
  if (['width', 'height', 'gap'].includes(id)) return setting.value !== null;
  // What nothing says and nothing can say isn't worth a line.
  return setting.value !== null || setting.canChange;
}

/** Whether both sides of the paper are printed. */
export const isBothSides = (all: ReadonlyMap<string, Setting>) => valueOf(all.get('sides')) === 'both';

/** Whether a setting names a style of sources: a package for citations may have it among its options. */
export const namesStyle = ({ id, value, choices }: Setting) =>
  value !== null && (id === 'bibstyle' || (id === 'cites' && !choices.some((c) => c.value === value)));

/** Units that measures are shown in, with their points of 1/72.27 in. */
export const units = { mm: 72.27 / 25.4, pt: 1, in: 72.27 } as const;
export type Unit = keyof typeof units;

/** A length as it is read. */
export const measured = (points: number, unit: Unit) => {
  const value = points / units[unit];
  return `${unit === 'in' ? value.toFixed(2) : unit === 'mm' ? Math.round(value * 2) / 2 : Math.round(value)} ${unit}`;
};

/** What a length is now where nothing sets it, as far as the page shows it. */
export function lengthNow(id: string, page: PageLook | null): string | undefined {
  if (!page) return undefined;
  const { paperWidth, paperHeight, textWidth, textHeight, oddLeft, top } = page;
  const points = {
    inner: oddLeft,
    outer: paperWidth - oddLeft - textWidth,
    top,
    bottom: paperHeight - top - textHeight,
  }[id];
  return points === undefined ? undefined : `${measured(points, 'mm')} now`;
}

/** What the number of characters a line is worth: 45 to 75 is common practice. */
export const comfort = (characters: number) =>
  characters > 90
    ? 'much too long to read at ease'
    : characters > 75
      ? 'long; 45 to 75 read at ease'
      : characters < 30
        ? 'very short'
        : characters < 45
          ? 'short; good for columns'
          : 'comfortable (45 to 75)';

/** What fights within the page itself, whatever set it. */
export const strays = (page: PageLook): string | null =>
  page.oddLeft < 0 || page.evenLeft < 0 || page.top < 0
    ? 'The text begins outside the paper.'
    : Math.max(page.oddLeft, page.evenLeft) + page.textWidth > page.paperWidth + 1
      ? 'The text is wider than the paper has room for.'
      : page.top + page.textHeight > page.paperHeight + 1
        ? 'The text is higher than the paper has room for.'
        : null;

/** A piece of a preamble: plain words, or words that set something. */
export interface Piece {
  from: number;
  text: string;
  /** The settings that these words set. */
  settings: string[];
  /** Whether they hold. */
  wins: boolean;
}

/** A preamble's text in pieces, by what sets something in it. */
export function pieces(path: string, text: string, settings: readonly Setting[]): Piece[] {
  const marks = settings.flatMap((s) =>
    s.places
      .map((place, i) => ({ ...place, id: s.id, wins: i === s.places.length - 1 }))
      .filter((place) => place.file === path && place.to <= text.length),
  );
  const cuts = [...new Set([0, text.length, ...marks.flatMap((m) => [m.from, m.to])])].sort((a, b) => a - b);
  return cuts.slice(0, -1).map((from, i) => {
    const to = cuts[i + 1]!;
    const own = marks.filter((m) => m.from <= from && m.to >= to);
    return {
      from,
      text: text.slice(from, to),
      settings: [...new Set(own.map((m) => m.id))],
      wins: own.some((m) => m.wins),
    };
  });
}

/** The line of a place, from 1. */
export const lineAt = (text: string, at: number) => text.slice(0, at).split('\n').length;
