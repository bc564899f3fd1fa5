import {
  RangeSet,
  RangeSetBuilder,
  RangeValue,
  StateEffect,
  StateField,
  type ChangeDesc,
  type Extension,
  type Range,
} from '@codemirror/state';
import { gutter, GutterMarker, type EditorView } from '@codemirror/view';

/** A stretch of a text with who brought it in. */
export interface AuthoredStretch {
  from: number;
  to: number;
  /** Stretches of one sitting have the same. */
  event: number;
  colour: string;
  initials: string;
  /** Who and when, in words. */
  says: string;
}

/** Shows who wrote what beside the text; null: shows it no longer. */
export const setAuthors = StateEffect.define<readonly AuthoredStretch[] | null>();

class Authored extends RangeValue {
  constructor(readonly stretch: AuthoredStretch) {
    super();
  }
}

class AuthorMark extends GutterMarker {
  constructor(
    private readonly stretch: AuthoredStretch,
    private readonly isFirst: boolean,
  ) {
    super();
  }

  override eq(other: AuthorMark) {
    return other.stretch.event === this.stretch.event && other.isFirst === this.isFirst;
  }

  override toDOM() {
    const mark = document.createElement('div');
    mark.className = 'cm-author';
    mark.style.setProperty('--whose', this.stretch.colour);
    mark.title = this.stretch.says;
    mark.textContent = this.isFirst ? this.stretch.initials : '\u00a0';
    return mark;
  }
}

const authored = StateField.define<RangeSet<Authored> | null>({
  create: () => null,
  update(known, transaction) {
    for (const effect of transaction.effects) {
      if (!effect.is(setAuthors)) continue;
      if (!effect.value) return null;
      const builder = new RangeSetBuilder<Authored>();
      for (const stretch of effect.value)
        if (stretch.from < stretch.to && stretch.to <= transaction.state.doc.length)
          builder.add(stretch.from, stretch.to, new Authored(stretch));
      return builder.finish();
    }
    return known && transaction.docChanged ? withoutNew(known.map(transaction.changes), transaction.changes) : known;
  },
});

/** What is just typed within a stretch isn’t of whoever wrote around it. */
function withoutNew(known: RangeSet<Authored>, changes: ChangeDesc): RangeSet<Authored> {
  changes.iterChangedRanges((_, __, begin, end) => {
    if (begin === end) return;
    const parts: Range<Authored>[] = [];
    known.between(begin, end, (from, to, value) => {
      if (to <= begin || from >= end) return;
      if (from < begin) parts.push(value.range(from, begin));
      if (to > end) parts.push(value.range(end, to));
    });
    known = known.update({
      filterFrom: begin,
      filterTo: end,
      filter: (from, to) => to <= begin || from >= end,
      add: parts,
      sort: true,
    });
  });
  return known;
}

/** Whose most of a line is; null: nobody's that is known. */
export function mainAuthor(stretches: Iterable<AuthoredStretch & { within: number }>): AuthoredStretch | null {
  const shares = new Map<number, { stretch: AuthoredStretch; length: number }>();
  for (const stretch of stretches) {
    const known = shares.get(stretch.event);
    if (known) known.length += stretch.within;
    else shares.set(stretch.event, { stretch, length: stretch.within });
  }
  return [...shares.values()].sort((a, b) => b.length - a.length)[0]?.stretch ?? null;
}

function authorOf(view: EditorView, from: number, to: number): AuthoredStretch | null {
  const found: (AuthoredStretch & { within: number })[] = [];
  view.state.field(authored, false)?.between(from, to, (a, b, { stretch }) => {
    const within = Math.min(b, to) - Math.max(a, from);
    if (within > 0) found.push({ ...stretch, within });
  });
  return mainAuthor(found);
}

/** The margin in which it is said, line by line. */
export const authorMargin: Extension = [
  authored,
  gutter({
    class: 'cm-authors',
    lineMarker(view, line) {
      if (!view.state.field(authored, false)) return null;
      // Its end belongs to a line, so that an empty one is somebody’s too.
      const author = authorOf(view, line.from, line.to + 1);
      if (!author) return null;
      const before = line.from > 0 ? view.state.doc.lineAt(line.from - 1) : null;
      return new AuthorMark(author, !before || authorOf(view, before.from, before.to + 1)?.event !== author.event);
    },
    lineMarkerChange: (update) =>
      update.docChanged || update.transactions.some((t) => t.effects.some((e) => e.is(setAuthors))),
  }),
];
