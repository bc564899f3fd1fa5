import { pickedCompletion, snippet, type Completion } from '@codemirror/autocomplete';
import { invertedEffects } from '@codemirror/commands';
import {
  Facet,
  StateEffect,
  type ChangeSpec,
  type Extension,
  type Transaction,
  type TransactionSpec,
} from '@codemirror/state';
import { EditorView } from '@codemirror/view';
import type { Guide } from './guide';
import { loadingLine, placeFor } from './preamble';

/** Packages are to be loaded in the preamble of another file, or no longer, as part of a change here. */
const preambleOf = StateEffect.define<{ packages: readonly string[]; isLoaded: boolean }>();

/** Carries out in the preamble's file what a change here needs. */
export type Loader = (packages: readonly string[], isLoaded: boolean) => void;

const loader = Facet.define<Loader, Loader | undefined>({ combine: (all) => all[0] });

/** What is put in needs these packages; `offer`: it was chosen from a list. */
export interface Needs {
  guide: Guide | null;
  packages: readonly string[];
  offer?: Completion;
}

/** What loads packages as part of the change that needs them: a line of this text, or word to the preamble's own. */
function load(text: string, { packages, guide }: Needs) {
  const changes: ChangeSpec[] = [];
  if (text.includes('\\documentclass') && text.includes('\\begin{document}')) {
    for (const name of packages) {
      const place = placeFor(text, name, guide);
      if (place !== null) changes.push({ from: place, insert: loadingLine(name) });
    }
    return { changes, effects: [] };
  }
  return { changes, effects: packages.length > 0 ? [preambleOf.of({ packages, isLoaded: true })] : [] };
}

// The change and what it needs are one transaction, and so one step of undoing.
function dispatch(view: EditorView, needs: Needs, spec: TransactionSpec) {
  const needed = load(view.state.doc.toString(), needs);
  const changes = view.state.changes(spec.changes);
  const before = view.state.changes(needed.changes);
  view.dispatch(
    { ...spec, changes, userEvent: 'input.complete', scrollIntoView: true },
    { changes: before.map(changes), effects: needed.effects, sequential: true },
  );
}

/** Puts a template in the place of a stretch: Tab leads through its fields. */
export function putTemplate(view: EditorView, needs: Needs, from: number, to: number, template: string) {
  let made: Transaction | undefined;
  // What the template would do is taken as it is, so that all of it is one transaction.
  const take = { state: view.state, dispatch: (transaction: Transaction) => (made = transaction) };
  snippet(template)(take, needs.offer ?? null, from, to);
  if (!made) return;
  const { changes, selection, effects } = made;
  const annotations = needs.offer && pickedCompletion.of(needs.offer);
  dispatch(view, needs, { changes, selection, effects, annotations });
}

/** Puts words in the place of a stretch, with the cursor behind so many of them. */
export function putText(view: EditorView, needs: Needs, from: number, to: number, text: string, cursor = text.length) {
  dispatch(view, needs, { changes: { from, to, insert: text }, selection: { anchor: from + cursor } });
}

/** What a choice needs in another file's preamble is done there, and undone when it is undone here. */
export const preambleElsewhere = (tell: Loader): Extension => [
  loader.of(tell),
  invertedEffects.of((transaction) =>
    transaction.effects
      .filter((e) => e.is(preambleOf))
      .map((e) => preambleOf.of({ ...e.value, isLoaded: !e.value.isLoaded })),
  ),
  EditorView.updateListener.of(({ state, transactions }) => {
    for (const { effects } of transactions)
      for (const e of effects) if (e.is(preambleOf)) state.facet(loader)?.(e.value.packages, e.value.isLoaded);
  }),
];
