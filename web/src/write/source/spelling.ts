import { StateEffect, StateField, type EditorState, type Extension } from '@codemirror/state';
import {
  closeHoverTooltips,
  Decoration,
  EditorView,
  hoverTooltip,
  showTooltip,
  type DecorationSet,
  type Tooltip,
} from '@codemirror/view';
import { get, post, type UnknownWord } from '../../api/client';
import type { Stretch } from './blocks';
import { goesWithWords } from './hovering';

/** A word that no dictionary knows, where it stands by now. */
interface Unknown extends Stretch {
  word: string;
  language: string;
}

const setUnknown = StateEffect.define<readonly Unknown[]>();

const markOf = ({ word, language }: Unknown) => Decoration.mark({ class: 'cm-unknown', word, language });

/** The words that no dictionary knows: the text carries their marks along, and a word that is changed loses its own. */
const unknownWords = StateField.define<DecorationSet>({
  create: () => Decoration.none,
  update(marks, { changes, docChanged, effects }) {
    for (const effect of effects)
      if (effect.is(setUnknown))
        return Decoration.set(
          effect.value.map((u) => markOf(u).range(u.from, u.to)),
          true,
        );
    if (!docChanged) return marks;
    return marks.update({ filter: (from, to) => !changes.touchesRange(from, to) }).map(changes);
  },
  provide: (field) => EditorView.decorations.from(field),
});

function unknownAt(state: EditorState, at: number): Unknown | null {
  let found: Unknown | null = null;
  state.field(unknownWords, false)?.between(at, at, (from, to, { spec }) => {
    found = { from, to, ...(spec as { word: string; language: string }) };
  });
  return found;
}

/** The next word that isn't known behind a place, or the first one of the text. */
export function nextUnknown(state: EditorState, at: number): Unknown | null {
  const marks = state.field(unknownWords, false);
  const first = (from: number) => {
    const cursor = marks?.iter(from);
    while (cursor?.value && cursor.from < from) cursor.next();
    return cursor?.value ? unknownAt(state, cursor.from) : null;
  };
  return first(at) ?? first(0);
}

interface Ways {
  manuscript: number;
  canWrite: () => boolean;
  /** Words were added: what is known has to be looked at again. */
  onAdded: () => void;
}

/** What may have been meant by a word, and the lists that it can be added to. */
function panel(view: EditorView, of: Unknown, ways: Ways, close: () => void): HTMLElement {
  const dom = document.createElement('div');
  dom.className = 'cm-help cm-spelling';
  dom.setAttribute('role', 'dialog');
  dom.setAttribute('aria-label', `Spelling of “${of.word}”`);
  dom.tabIndex = -1;
  const says = dom.appendChild(document.createElement('p'));
  says.className = 'cm-reference-note';
  says.textContent = 'Looking for what may have been meant …';
  const button = (parent: HTMLElement, name: string, act: () => void) => {
    const made = parent.appendChild(document.createElement('button'));
    made.type = 'button';
    made.textContent = name;
    made.onmousedown = (event) => event.preventDefault();
    made.onclick = act;
    return made;
  };
  const list = dom.appendChild(document.createElement('div'));
  list.className = 'cm-spelling-words';
  const replace = (word: string) => {
    // It may have moved, or be another word by now.
    const now = unknownAt(view.state, of.from) ?? of;
    close();
    if (view.state.sliceDoc(now.from, now.to) !== view.state.sliceDoc(of.from, of.to)) return;
    view.dispatch({
      changes: { from: now.from, to: now.to, insert: word },
      selection: { anchor: now.from + word.length },
      userEvent: 'input.replace',
    });
    view.focus();
  };
  /** What one can press comes all at once: nothing moves away below a pointer that is about to press. */
  const offer = (meant: readonly string[]) => {
    if (!ways.canWrite()) return;
    for (const one of meant) button(list, one, () => replace(one));
    const lists = dom.appendChild(document.createElement('div'));
    lists.className = 'cm-spelling-lists';
    const add = (isMine: boolean) => () => {
      says.textContent = 'Adding it to the list …';
      void post(`/api/manuscripts/${ways.manuscript}/spelling/words`, { word: of.word, isMine }).then(
        () => {
          close();
          view.focus();
          ways.onAdded();
        },
        (e: unknown) => (says.textContent = `It couldn’t be added: ${(e as Error).message}`),
      );
    };
    button(lists, 'Right in this manuscript', add(false));
    button(lists, 'Right wherever I write', add(true));
    if (dom.contains(document.activeElement)) dom.querySelector('button')?.focus();
  };
  dom.onkeydown = (event) => {
    const all = [...dom.querySelectorAll('button')];
    const at = all.findIndex((b) => b === document.activeElement);
    const step = { ArrowDown: 1, ArrowRight: 1, ArrowUp: -1, ArrowLeft: -1 }[event.key];
    if (event.key === 'Escape') {
      close();
      view.focus();
    } else if (step) all[(at + step + all.length) % all.length]?.focus();
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const { word, language } = of;
  get<string[]>(
    `/api/manuscripts/${ways.manuscript}/spelling/suggestions?word=${encodeURIComponent(word)}&language=${language}`,
  ).then(
    (meant) => {
      says.textContent =
        meant.length > 0 ? 'No dictionary has this word. Was it …' : 'No dictionary has this word, or one like it.';
      offer(meant);
    },
    () => {
      says.textContent = 'No dictionary has this word.';
      offer([]);
    },
  );
  return dom;
}

const setPanel = StateEffect.define<Unknown | null>();

/** What is unknown is underlined, and says on asking what may have been meant. */
export function spelling(ways: Ways): Extension {
  const shown = StateField.define<Tooltip | null>({
    create: () => null,
    update(now, { effects, docChanged, selection }) {
      for (const effect of effects)
        if (effect.is(setPanel)) {
          const of = effect.value;
          return (
            of && {
              pos: of.from,
              end: of.to,
              above: false,
              create: (view) => {
                const dom = panel(view, of, ways, () => view.dispatch({ effects: setPanel.of(null) }));
                // It stays where it is when another comes or goes: a press isn’t lost.
                return { dom, overlap: true, mount: () => dom.focus() };
              },
            }
          );
        }
      return docChanged || selection ? null : now;
    },
    provide: (field) => showTooltip.from(field),
  });
  return [
    unknownWords,
    shown,
    hoverTooltip((view, at): Tooltip | null => {
      const of = unknownAt(view.state, at);
      if (!of || view.state.field(shown)) return null;
      return {
        pos: of.from,
        end: of.to,
        above: false,
        create: (editor) => ({
          dom: panel(editor, of, ways, () => editor.dispatch({ effects: closeHoverTooltips })),
          overlap: true,
        }),
      };
    }, goesWithWords),
  ];
}

/** Goes to the next unknown word and says what may have been meant. */
export function showNextUnknown(view: EditorView): boolean {
  const of = nextUnknown(view.state, view.state.selection.main.to);
  if (!of) return false;
  view.dispatch({
    selection: { anchor: of.from, head: of.to },
    effects: EditorView.scrollIntoView(of.from, { y: 'center' }),
  });
  view.dispatch({ effects: [closeHoverTooltips, setPanel.of(of)] });
  return true;
}

/** A text is looked at when nothing was written for so long, in milliseconds. */
const Pause = 700;

/** Has the spelling of a text looked at while it is written. */
export class SpellingLook {
  private timer = 0;
  private language = '';
  private isClosed = false;
  private asked = 0;

  /**
   * @param address Where the text's unknown words are asked for.
   * @param carry Carries places of an earlier version of the text to where they are; null when what came since isn't known.
   * @param typed The word that is being typed: it isn't underlined yet.
   */
  constructor(
    private readonly view: () => EditorView,
    private readonly address: string,
    private readonly carry: (version: number) => ((at: number, side: -1 | 1) => number) | null,
    private readonly typed: () => Stretch | null,
  ) {}

  /** Looks in another language where the manuscript says none; empty: not at all. */
  use(language: string) {
    this.language = language;
    if (!language) this.view().dispatch({ effects: setUnknown.of([]) });
    this.soon(0);
  }

  /** Looks again, when nothing was written for a while. */
  soon(after = Pause) {
    window.clearTimeout(this.timer);
    if (this.language && !this.isClosed) this.timer = window.setTimeout(() => void this.look(), after);
  }

  close() {
    this.isClosed = true;
    window.clearTimeout(this.timer);
  }

  private async look() {
    // Without a connection what was found stays. Answers may overtake one another: the last question counts.
    const asked = ++this.asked;
    const found = await get<{ version: number; words: UnknownWord[] }>(
      `${this.address}?language=${this.language}`,
    ).catch(() => null);
    const carry = found && this.carry(found.version);
    // The server had words that aren’t here yet.
    if (found && !carry) this.soon();
    if (!carry || asked !== this.asked || this.isClosed || !this.language) return;
    const view = this.view();
    const typed = this.typed();
    const unknown: Unknown[] = [];
    let isTyping = false;
    for (const { offset, length, word, language } of found.words) {
      const from = carry(offset, 1);
      const to = carry(offset + length, -1);
      // Words that were changed since are looked at next time.
      if (to - from !== length || to > view.state.doc.length) continue;
      if (typed && from <= typed.to && to >= typed.from) isTyping = true;
      else unknown.push({ from, to, word, language });
    }
    view.dispatch({ effects: setUnknown.of(unknown) });
    if (isTyping) this.soon();
  }
}
