import {
  pickedCompletion,
  startCompletion,
  type CompletionContext,
  type CompletionResult,
  type CompletionSource,
} from '@codemirror/autocomplete';
import type { ChangeSpec } from '@codemirror/state';
import type { EditorView } from '@codemirror/view';
import { guideQuery, manuscriptQuery, proofQuery, queryClient } from '../../api/queries';
import { environmentAround, partnerOf } from '../source/blocks';
import { nameAt } from '../source/environments';
import { Guide } from './guide';
import { helpPanel, picturePanel } from './helpPanel';
import { optionAt, OptionReach, type OptionPlace } from './optionAt';
import * as offers from './offers';
import type { Known, Offer } from './offers';
import { putTemplate } from './putIn';
import { commandTemplate, environmentTemplate, needsOf } from './template';
import { isInFormula, wantedAfter, type Wanted } from './wanted';

const guides = new WeakMap<object, Guide>();

/** What is known while writing; null until the guide is here. */
export async function knownOf(manuscript: number): Promise<Known | null> {
  const help = await queryClient.fetchQuery({ ...guideQuery, retry: false }).catch(() => null);
  if (!help) return null;
  let guide = guides.get(help);
  if (!guide) guides.set(help, (guide = new Guide(help)));
  const report = queryClient.getQueryData(proofQuery(manuscript).queryKey)?.report ?? null;
  const itself = queryClient.getQueryData(manuscriptQuery(manuscript).queryKey) ?? null;
  if (last?.guide !== guide || last.report !== report || last.manuscript !== itself)
    last = { guide, report, manuscript: itself };
  return last;
}

/** What was known last: it stays the same object, so that what is made of it is made once. */
let last: Known | null = null;

/** The commands that may be put in, made once for what is known: there are thousands. */
const commandLists = new WeakMap<Known, Map<boolean, Offer[]>>();

function commandsOf(known: Known, isFormula: boolean): Offer[] {
  let lists = commandLists.get(known);
  if (!lists) commandLists.set(known, (lists = new Map<boolean, Offer[]>()));
  let list = lists.get(isFormula);
  if (!list) {
    const apply = putCommand(known.guide);
    lists.set(isFormula, (list = offers.commands(known, isFormula).map((o) => ({ ...o, apply, info: infoOf(o) }))));
  }
  return list;
}

/** Offers what may be written at the cursor: commands, environments, labels, files, packages and names. */
export function completionSource(manuscript: number): CompletionSource {
  // It is here by the time that the first list is wanted.
  void queryClient.prefetchQuery(guideQuery);
  return async (context) => {
    const line = context.state.doc.lineAt(context.pos);
    const at = context.pos - line.from;
    const wanted = wantedAfter(line.text.slice(0, at));
    const { doc } = context.state;
    const place = optionAt(
      doc.sliceString(Math.max(0, context.pos - OptionReach), context.pos),
      doc.sliceString(context.pos, context.pos + OptionReach),
    );
    if (!wanted && !place) return null;
    const known = await knownOf(manuscript);
    const listed = known && place ? optionsAt(context, place, known) : null;
    return listed ?? (known && wanted && resultOf(context, wanted, known));
  };
}

function resultOf(context: CompletionContext, wanted: Wanted, known: Known): CompletionResult | null {
  const from = context.pos - wanted.typed.length;
  switch (wanted.kind) {
    case 'command': {
      const isFormula = isInFormula(context.state.doc, from - 1);
      const all = commandsOf(known, isFormula);
      // Whoever has written all of a name that takes nothing needs no list, and Enter ends the line.
      const isDone = (typed: string) =>
        all.some((o) => o.label === typed && !/[{|]/.test(o.help?.form ?? '') && !o.needs) &&
        !all.some((o) => o.label !== typed && o.label.startsWith(typed));
      if (isDone(`\\${wanted.typed}`)) return null;
      return {
        from: from - 1,
        options: all,
        validFor: (typed) => /^\\[A-Za-z@]*\*?$/.test(typed) && !isDone(typed),
      };
    }
    case 'environment': {
      const open = wanted.isEnd ? environmentAround(context.state.doc, context.pos - 1) : null;
      const options = offers
        .environments(known, open)
        .map((o) => ({ ...o, apply: wanted.isEnd ? putName : putEnvironment(known.guide), info: infoOf(o) }));
      return { from, options, validFor: /^[A-Za-z@*]*$/ };
    }
    case 'label':
      return plain(from, offers.labels(known.report));
    case 'file':
      return plain(from, offers.files(known, wanted.of));
    case 'package':
      return plain(from, offers.packages(known));
    case 'class':
      return plain(from, offers.classes(known));
    case 'classOption':
      return plain(from, offers.classOptions(known));
    case 'counter':
      return plain(from, offers.counters(known));
    case 'colour':
      return plain(from, offers.colours(known));
    case 'entry':
      return plain(from, offers.entries(known));
  }
}

function optionsAt(context: CompletionContext, place: OptionPlace, known: Known): CompletionResult | null {
  const all = offers.options(known, place);
  // A list that is still empty comes up by itself only where its values are few.
  if (!all?.length || (!context.explicit && place.typed === '' && place.option === null)) return null;
  return {
    from: context.pos - place.typed.length,
    options: all.map((o) => (o.takesValue ? { ...o, apply: putOption } : o)),
    validFor: /^[A-Za-z0-9&*-]*$/,
  };
}

/** Writes an option with its sign, and goes on to its value. */
function putOption(view: EditorView, offer: Offer, from: number, to: number) {
  const isGiven = view.state.sliceDoc(to, to + 1) === '=';
  const insert = offer.label + (isGiven ? '' : '=');
  view.dispatch({
    changes: { from, to, insert },
    selection: { anchor: from + offer.label.length + 1 },
    annotations: pickedCompletion.of(offer),
    userEvent: 'input.complete',
  });
  startCompletion(view);
}

const plain = (from: number, options: Offer[]): CompletionResult => ({
  from,
  options: options.map((o) => (o.picture ? { ...o, info: () => picturePanel(o.picture!) } : o)),
  validFor: /^[^{},\\]*$/,
});

const infoOf = (offer: Offer) => (offer.help ? () => helpPanel(offer.help!, offer) : undefined);

const wantsPackages = (offer: Offer): string[] => [
  ...(offer.needs && !offer.clash ? [offer.needs] : []),
  ...(offer.help ? needsOf(offer.help) : []),
];

const putCommand = (guide: Guide) => (view: EditorView, offer: Offer, from: number, to: number) => {
  const next = view.state.sliceDoc(to, to + 1);
  // Arguments that are there already stay as they are.
  const template = offer.help && next !== '{' && next !== '[' ? commandTemplate(offer.help) : offer.label;
  putTemplate(view, { guide, packages: wantsPackages(offer), offer }, from, to, template);
};

const putEnvironment = (guide: Guide) => (view: EditorView, offer: Offer, from: number, to: number) => {
  const { doc } = view.state;
  const name = nameAt(doc, from);
  if (!offer.help || (name && partnerOf(doc, name))) return putName(view, offer, from, to);
  const end = to + (view.state.sliceDoc(to, to + 1) === '}' ? 1 : 0);
  // What follows in the line goes on below.
  const isLast = view.state.sliceDoc(end, doc.lineAt(end).to).trim() === '';
  const template = environmentTemplate(offer.help) + (isLast ? '' : '\n');
  putTemplate(view, { guide, packages: wantsPackages(offer), offer }, from, end, template);
};

/** Writes a name and goes on behind its brace. */
function putName(view: EditorView, offer: Offer, from: number, to: number) {
  const name = nameAt(view.state.doc, from);
  const partner = name && !name.isEnd ? partnerOf(view.state.doc, name) : null;
  const isClosed = view.state.sliceDoc(to, to + 1) === '}';
  const changes: ChangeSpec[] = [{ from, to, insert: isClosed ? offer.label : `${offer.label}}` }];
  if (partner) changes.push({ from: partner.from, to: partner.to, insert: offer.label });
  view.dispatch({
    changes,
    selection: { anchor: from + offer.label.length + 1 },
    annotations: pickedCompletion.of(offer),
    userEvent: 'input.complete',
  });
}
