import { autocompletion, closeBrackets, closeBracketsKeymap } from '@codemirror/autocomplete';
import {
  defaultKeymap,
  history,
  historyKeymap,
  indentWithTab,
  moveLineDown,
  moveLineUp,
  redo,
  toggleComment,
  undo,
} from '@codemirror/commands';
import { bracketMatching } from '@codemirror/language';
import { setDiagnostics, type Diagnostic } from '@codemirror/lint';
import { highlightSelectionMatches, selectNextOccurrence } from '@codemirror/search';
import {
  Compartment,
  EditorSelection,
  EditorState,
  Prec,
  Transaction,
  type ChangeSpec,
  type Extension,
  type StateEffect,
} from '@codemirror/state';
import {
  drawSelection,
  EditorView,
  highlightActiveLine,
  highlightActiveLineGutter,
  keymap,
  lineNumbers,
} from '@codemirror/view';
import type { Finding, ManuscriptFile, Repair } from '../api/client';
import { carets, setCarets, type Caret } from '../live/carets';
import type { Live, Place, Present } from '../live/live';
import {
  fetchText,
  LargestInsert,
  saved,
  TextSync,
  type Opened,
  type SaveState,
  type StoredStretch,
} from '../live/textSync';
import { isMac } from '../ui/keyNames';
import { Citations } from './citations';
import { completionSource } from './completion/completion';
import { lineOf, loadingLine, placeFor } from './completion/preamble';
import type { Guide } from './completion/guide';
import { preambleElsewhere, type Loader } from './completion/putIn';
import { hoverHelp } from './completion/hover';
import type { MakeKind } from './making/makes';
import { looksOf, markupLanguage } from './markup';
import type { Looks } from './looks';
import { partnerOf } from './source/blocks';
import { pointedAt, type Pointed } from './completion/pointed';
import { endWithIt, writingOverEnds } from './source/closing';
import { cursorInView } from './source/cursorInView';
import { environments, nameAt } from './source/environments';
import { folding } from './source/folding';
import { authorMargin, setAuthors, type AuthoredStretch } from './source/authors';
import { foundMarks, setFound } from './source/found';
import { notedMarks, setNoted, type NotedStretch } from './source/noted';
import { headingInView } from './source/headingAbove';
import { hold, heldPlaces, type HeldPlace, type HeldWords } from './source/heldPlaces';
import { hintOf, type Hint } from './source/hints';
import { incoming, type IncomingListener } from './source/incoming';
import { bind } from './source/keys';
import { askForNote, selectionBar } from './source/selectionBar';
import { suggesting, suggestHere, suggests } from './source/suggesting';
import { pictureOf, thingAt } from './source/thingAt';
import { showNextUnknown, spelling, SpellingLook } from './source/spelling';
import { TypedWord } from './source/typedWord';
import { pairedCommands, wrapKeys } from './source/wrapping';
import type { NameAct } from './useNames';

/** Whoever shows a text hears of these. */
export interface TextListener extends IncomingListener {
  onCursor: (line: number, column: number) => void;
  /** Words are to be found: those that are chosen, in this file or in all, and maybe replaced. */
  onFind: (words: string, isWide: boolean, replaces: boolean) => void;
  onFindStep: (by: 1 | -1) => void;
  /** The proof of what is written is wanted now. */
  onProof: () => void;
  /** Something is to be made at the cursor. */
  onMake: (kind: MakeKind) => void;
  /** Something is to be done with a name in the text. */
  onName: (name: Pointed, act: NameAct) => void;
  /** These findings are of words that are still being typed; they are said when those are done. */
  onUnfinished: (findings: readonly Finding[]) => void;
  /** Something that newcomers trip over was typed. */
  onHint: (hint: Hint) => void;
  /** Words are suggested in the place of a passage of a version of the text; resolves to what went wrong, or to nothing. */
  onSuggest: (passage: StoredStretch, proposal: string, why: string) => Promise<string>;
}

/** What holds for all texts of a manuscript that one has open. */
export interface TextContext {
  live: Live;
  manuscript: number;
  person: number;
  canWrite: boolean;
  /** What one types is a suggestion, and leaves the text as it is. */
  suggests: boolean;
  /** How the person wants texts to look. */
  looks: Looks;
}

/** So much of what may be written is shown at once: a list that scrolls would be out of reach of the keyboard for some. */
const MostShown = 10;

const TellAfter = 60;

/** Why nothing can be said of words just now. */
const notStored = 'The text isn’t stored just now, so nothing can be tied to it yet. Your words stay here.';

/** After this time one hears where the cursor went, in milliseconds: that of a frame. */
const SayAfter = 16;

/** Chosen words up to this length are looked for when one begins to find. */
const LongestWords = 200;

/** How to leave the text by key, for those who can't see that Tab indents. */
const description = 'Tab indents. Escape and then Tab leave the text; F6 goes from leaf to leaf.';

/**
 * One file's text in its editor, saving by itself. It stays alive while it isn't shown, so that its undo history, its selection
 * and its place are there when one comes back, and what others write in it meanwhile is taken in.
 */
export class OpenText {
  readonly view: EditorView;
  private readonly sync: TextSync;
  private readonly naming = new Compartment();
  private readonly rights = new Compartment();
  private readonly looks = new Compartment();
  private listener: TextListener | null = null;
  private scroll: StateEffect<unknown> | null = null;
  private told = 0;
  private saying = 0;
  private found: { findings: readonly Finding[]; version: number } = { findings: [], version: 0 };
  private isHolding = false;
  /** The word that is being typed. */
  private readonly typing = new TypedWord(() => {
    this.mark(this.found.findings, this.found.version);
    this.spelling.soon();
  });
  private readonly spelling: SpellingLook;
  private readonly offAids: (() => void)[];
  private present: readonly Present[] = [];
  /** The place of each of the others that is shown already; from there on the text carries it along. */
  private readonly located = new Map<string, Place>();

  private constructor(
    private readonly context: TextContext,
    private file: ManuscriptFile,
    opened: Opened,
    private readonly onSave: (state: SaveState) => void,
    onRestored: () => void,
    private readonly load: Loader,
  ) {
    this.sync = new TextSync(
      context.live,
      file,
      opened,
      (s) => {
        onSave(s);
        if (s.waiting === 0) this.tell();
      },
      () => this.showOthers(),
      onRestored,
    );
    const state = EditorState.create({ doc: opened.text, extensions: this.extensions() });
    this.view = new EditorView({ state: this.sync.restore(state) });
    // What was left unsent is typed text, and is put back as that.
    this.allow();
    this.sync.begin();
    this.spelling = new SpellingLook(
      () => this.view,
      `/api/manuscripts/${context.manuscript}/spelling/files/${file.id}`,
      (version) => this.sync.carrier(version),
      () => this.typing.word,
    );
    // Words may have been made right while there was no connection.
    this.offAids = [
      context.live.on('aids', () => this.spelling.soon()),
      context.live.on('joined', () => this.spelling.soon()),
    ];
    this.spellAs(context.looks.spelling);
  }

  /** Fetches a file's text, with what an earlier tab left unsent in it. */
  static async open(
    context: TextContext,
    file: ManuscriptFile,
    onSave: (state: SaveState) => void,
    onRestored: () => void,
    load: Loader,
  ): Promise<OpenText> {
    const opened = await fetchText(context.manuscript, file, context.person);
    return new OpenText(context, file, opened, onSave, onRestored, load);
  }

  get clientId() {
    return this.sync.clientId;
  }

  get waiting() {
    return this.sync.waiting;
  }

  /** The text as the server has it, as far as it is known here. */
  get stored() {
    return this.sync.stored;
  }

  get place(): { line: number; column: number } {
    const { head } = this.view.state.selection.main;
    const line = this.view.state.doc.lineAt(head);
    return { line: line.number, column: head - line.from + 1 };
  }

  /** Puts the editor into the page, at the place where it was left. */
  show(host: HTMLElement, listener: TextListener) {
    this.listener = listener;
    host.replaceChildren(this.view.dom);
    this.view.requestMeasure();
    if (this.scroll) this.view.dispatch({ effects: this.scroll });
    this.sync.tellAnew();
    this.tell();
    const { line, column } = this.place;
    listener.onCursor(line, column);
  }

  /** Takes the editor out of the page; the text stays open. */
  hide() {
    this.scroll = this.view.scrollSnapshot();
    this.listener = null;
    window.clearTimeout(this.told);
    this.view.dom.remove();
  }

  /** Says that one shows no text now. */
  leave() {
    this.context.live.here({ clientId: this.clientId, file: null, version: 0, anchor: 0, head: 0, line: 0 });
    this.sync.tellAnew();
  }

  /** The file got another name. */
  rename(file: ManuscriptFile) {
    if (file.path === this.file.path) return;
    this.file = file;
    this.view.dispatch({ effects: this.naming.reconfigure(named(file.path)) });
  }

  /** One may write, or suggest, by now, or no longer. */
  allow() {
    this.view.dispatch({ effects: this.rights.reconfigure(allowed(this.context)) });
  }

  /** Shows the text in other looks; it stays as it is. */
  look(looks: Looks) {
    this.view.dispatch({ effects: this.looks.reconfigure(shown(looks)) });
    this.spellAs(looks.spelling);
  }

  private spellAs(language: string) {
    this.spelling.use(/\.(tex|ltx)$/i.test(this.file.path) ? language : '');
  }

  goTo(line: number, column = 1) {
    const found = this.view.state.doc.line(Math.min(Math.max(line, 1), this.view.state.doc.lines));
    this.select(Math.min(found.from + column - 1, found.to));
  }

  /** Goes to a place of an earlier version of the text, wherever it is by now. */
  goToPlace(offset: number, version: number) {
    const carry = this.sync.carrier(version);
    this.select(Math.min(carry ? carry(offset, -1) : offset, this.view.state.doc.length));
  }

  /** Shows a stretch of an earlier version of the text, wherever it is by now; the focus stays where it is. */
  showStretch(offset: number, length: number, version: number) {
    const { from, to } = this.now(offset, length, version);
    this.choose(from, to);
  }

  /** Chooses the whole words of a stretch of an earlier version of the text. */
  chooseWords(offset: number, length: number, version: number) {
    const { doc } = this.view.state;
    let { from, to } = this.now(offset, length, version);
    const [begin, end] = [doc.lineAt(from).from, doc.lineAt(to).to];
    while (from > begin && /[\p{L}\p{N}]/u.test(doc.sliceString(from - 1, from))) from--;
    while (to < end && /[\p{L}\p{N}]/u.test(doc.sliceString(to, to + 1))) to++;
    this.choose(from, to);
  }

  /** Chooses what stands at a place of a version of the text: a formula, a picture, or a word. Beside all words, a picture whose words are around. */
  chooseThing(offset: number, version: number, around?: readonly number[]) {
    const now = (place: number) => this.now(place, 1, version).from;
    const text = this.view.state.doc.toString();
    const found = (around && pictureOf(text, around.map(now))) ?? thingAt(text, now(offset));
    if (found) this.choose(found.from, found.to);
  }

  /** Marks stretches of an earlier version of the text. */
  markFound(places: readonly { offset: number; length: number }[], version: number) {
    this.view.dispatch({ effects: setFound.of(places.map((p) => this.now(p.offset, p.length, version))) });
  }

  /** Marks passages with notes, each a place of a version of the text. */
  markNotes(notes: readonly (NotedStretch & { version: number })[]) {
    const now = notes.map((n) => ({ ...n, ...this.now(n.from, n.to - n.from, n.version) }));
    this.view.dispatch({ effects: setNoted.of(now) });
  }

  /** The chosen words, or else the line of the cursor; null where there are none. */
  chosenWords(): string | null {
    const { from, to } = this.chosenStretch();
    const words = this.view.state.sliceDoc(from, to);
    return words.trim() ? words : null;
  }

  /** Holds the chosen words, or else the line of the cursor, while one says something of them; null where there are none. */
  holdChosen(): HeldWords | null {
    const words = this.chosenWords();
    if (words === null) return null;
    const held = hold(this.view, this.chosenStretch());
    return { words, release: held.release, stored: () => this.storedPlace(held) };
  }

  private chosenStretch() {
    const { doc, selection } = this.view.state;
    const { main } = selection;
    return main.empty ? doc.lineAt(main.head) : main;
  }

  private async storedPlace(held: HeldPlace): Promise<StoredStretch> {
    const place = await this.sync.storedStretch(held.now);
    if (!place) throw new Error(notStored);
    return place;
  }

  private async suggest(passage: { from: number; to: number }, proposal: string, why: string): Promise<string> {
    const { listener } = this;
    const held = hold(this.view, passage);
    try {
      const place = await this.storedPlace(held);
      // An empty answer would close the slip with its words.
      return listener ? await listener.onSuggest(place, proposal, why) : notStored;
    } catch (e) {
      return (e as Error).message;
    } finally {
      held.release();
    }
  }

  /** Opens a slip for other words here. */
  suggestHere() {
    suggestHere(this.view);
  }

  /** Shows who wrote what of an earlier version of the text; null: shows it no longer. */
  showAuthors(stretches: readonly AuthoredStretch[] | null, version: number) {
    const now = stretches?.map((s) => ({ ...s, ...this.now(s.from, s.to - s.from, version) })) ?? null;
    this.view.dispatch({ effects: setAuthors.of(now) });
  }

  /** Where the cursor's place is in an earlier version of the text; null when what came since isn't known. */
  placeIn(version: number): number | null {
    return this.sync.carrierBack(version)?.(this.view.state.selection.main.head) ?? null;
  }

  insert(text: string) {
    this.view.dispatch(this.view.state.replaceSelection(text));
    this.view.focus();
  }

  /** Loads packages in this text's preamble, or takes the lines away again by which they were; undoing here is left alone. */
  loadPackages(names: readonly string[], isLoaded: boolean, guide: Guide | null) {
    const changes: ChangeSpec[] = [];
    const text = this.view.state.doc.toString();
    for (const name of names) {
      const place = isLoaded ? placeFor(text, name, guide) : null;
      const line = isLoaded ? null : lineOf(text, name);
      if (place !== null) changes.push({ from: place, insert: loadingLine(name) });
      if (line) changes.push(line);
    }
    if (changes.length > 0) this.view.dispatch({ changes, annotations: Transaction.addToHistory.of(false) });
  }

  /**
   * Carries out a mend that was found in an earlier version; false when other words stand there by now. Unless it is one of many,
   * the cursor goes there.
   */
  async mend(repair: Repair, version: number, isOneOfMany = false): Promise<boolean> {
    const carry = await this.sync.carrierFrom(version).catch(() => null);
    const place = carry && this.placeOf(repair, carry);
    // What belongs to it in another file is mended there.
    const also = repair.also?.file === repair.file ? repair.also : null;
    const along = carry && also ? this.placeOf(also, carry) : null;
    if (!place || (also && !along)) return false;
    const { from, to } = place;
    const { doc } = this.view.state;
    // A misspelt name of an environment stands at both its ends.
    const name = nameAt(doc, from);
    const other = name?.from === from && name.to === to ? partnerOf(doc, name) : null;
    const changes = [{ from, to, insert: repair.text }];
    if (other) changes.push({ from: other.from, to: other.to, insert: repair.text });
    if (along) changes.push({ ...along, insert: also!.text });
    if (isOneOfMany) {
      this.view.dispatch({ changes });
      return true;
    }
    const change = this.view.state.changes(changes);
    const anchor = change.mapPos(to, 1);
    this.view.dispatch({ changes: change, selection: { anchor } });
    this.view.dispatch({ effects: EditorView.scrollIntoView(anchor, { y: 'center' }) });
    this.view.focus();
    return true;
  }

  /** Underlines what was found in an earlier version of the text: the places are carried over what was typed since. */
  mark(findings: readonly Finding[], version: number) {
    this.found = { findings, version };
    const marks: Diagnostic[] = [];
    const unfinished: Finding[] = [];
    const carry = this.sync.carrier(version);
    const { length } = this.view.state.doc;
    const word = this.typing.word;
    for (const f of findings) {
      if (f.file !== this.file.path || f.offset === null || !carry) continue;
      const from = Math.min(carry(f.offset, 1), length);
      const to = Math.max(from, Math.min(carry(f.offset + Math.max(1, f.length), -1), length));
      if (word && from <= word.to && to >= word.from) {
        unfinished.push(f);
        continue;
      }
      const severity = f.kind === 'fix' ? 'error' : f.kind === 'check' ? 'warning' : 'info';
      marks.push({ from, to, severity, message: `${f.message} ${f.advice}` });
    }
    this.view.dispatch(setDiagnostics(this.view.state, marks));
    if (unfinished.length > 0 || this.isHolding) this.listener?.onUnfinished(unfinished);
    this.isHolding = unfinished.length > 0;
  }

  /** Shows where the others are. */
  showPresent(present: readonly Present[]) {
    // Whoever came anew hasn't heard where one is.
    const seats = (all: readonly Present[]) =>
      all
        .map((p) => p.seat)
        .sort()
        .join(' ');
    if (seats(present) !== seats(this.present)) {
      this.sync.tellAnew();
      this.tell();
    }
    this.present = present;
    this.showOthers();
  }

  /** Ends; what waits goes out now, or when the manuscript is opened again. */
  close() {
    window.clearTimeout(this.told);
    this.typing.close();
    this.spelling.close();
    this.offAids.forEach((off) => off());
    this.sync.close();
    this.view.destroy();
  }

  /** Where the words of a mend are by now; null when other words stand there. */
  private placeOf(repair: Repair, carry: (at: number, side: -1 | 1) => number): { from: number; to: number } | null {
    const from = carry(repair.offset, repair.length > 0 ? 1 : -1);
    const to = Math.max(from, carry(repair.offset + repair.length, -1));
    const { doc } = this.view.state;
    const stands = (at: number, words: string) => doc.sliceString(at, at + words.length) === words;
    const fits =
      doc.sliceString(from, to) === repair.words &&
      (repair.length > 0 ||
        (from >= repair.before.length &&
          stands(from - repair.before.length, repair.before) &&
          stands(to, repair.after)));
    return fits ? { from, to } : null;
  }

  private now(offset: number, length: number, version: number) {
    const carry = this.sync.carrier(version);
    const within = (at: number) => Math.min(at, this.view.state.doc.length);
    const from = within(carry ? carry(offset, 1) : offset);
    return { from, to: Math.max(from, within(carry ? carry(offset + length, -1) : offset + length)) };
  }

  private find = (isWide: boolean, replaces: boolean) => () => {
    const { main } = this.view.state.selection;
    // A long stretch is where one works, not what one looks for.
    const chosen = main.to - main.from <= LongestWords ? this.view.state.sliceDoc(main.from, main.to) : '';
    this.listener?.onFind(chosen.includes('\n\n') ? '' : chosen, isWide, replaces);
    return true;
  };

  private findStep = (by: 1 | -1) => () => {
    this.listener?.onFindStep(by);
    return true;
  };

  private make = (kind: MakeKind) => () => {
    this.listener?.onMake(kind);
    return true;
  };

  private name = (act: NameAct, at?: number) => () => {
    const { doc, selection } = this.view.state;
    const place = at ?? selection.main.head;
    const line = doc.lineAt(place);
    const name = pointedAt(line.text, place - line.from);
    if (name) this.listener?.onName(name, act);
    return name !== null;
  };

  private showOthers() {
    const here = this.present.filter((p) => p.place?.file === this.file.id);
    const moved: Caret[] = [];
    for (const { seat, person: who, place } of here) {
      if (!place || this.located.get(seat) === place) continue;
      const at = this.sync.locate(place);
      if (!at) continue;
      this.located.set(seat, place);
      moved.push({ seat, clientId: place.clientId, name: who.name, colour: who.colour, ...at });
    }
    this.view.dispatch({ effects: setCarets.of({ moved, there: new Set(here.map((p) => p.seat)) }) });
  }

  private choose(from: number, to: number) {
    this.view.dispatch({
      selection: { anchor: from, head: to },
      effects: EditorView.scrollIntoView(EditorSelection.range(from, to), { y: 'center' }),
    });
  }

  private select(at: number) {
    this.view.dispatch({ selection: { anchor: at }, effects: EditorView.scrollIntoView(at, { y: 'center' }) });
    this.view.focus();
  }

  // Where one is, a moment after it changed and once all of it is stored.
  // Once for all keys of a moment: what was drawn in time with fast keys would never be done.
  private sayCursor() {
    this.saying ||= window.setTimeout(() => {
      this.saying = 0;
      const { line, column } = this.place;
      this.listener?.onCursor(line, column);
    }, SayAfter);
  }

  private tell() {
    window.clearTimeout(this.told);
    if (!this.listener) return;
    this.told = window.setTimeout(() => {
      const place = this.sync.news();
      if (place) this.context.live.here(place);
    }, TellAfter);
  }

  private help() {
    const citations = new Citations(this.context.manuscript);
    return [
      autocompletion({
        override: [citations.complete, completionSource(this.context.manuscript)],
        icons: false,
        activateOnTypingDelay: 10,
        maxRenderedOptions: MostShown,
      }),
      preambleElsewhere(this.load),
      citations.extension(),
      hoverHelp(this.context.manuscript),
      spelling({
        manuscript: this.context.manuscript,
        canWrite: () => this.context.canWrite,
        onAdded: () => this.spelling.soon(0),
      }),
      keymap.of([{ key: 'Enter', run: endWithIt }]),
      // Before brackets pair.
      Prec.high(writingOverEnds),
    ];
  }

  private extensions() {
    const isBib = this.file.path.endsWith('.bib');
    return [
      lineNumbers(),
      history(),
      drawSelection(),
      highlightActiveLine(),
      highlightActiveLineGutter(),
      highlightSelectionMatches(),
      bracketMatching(),
      closeBrackets(),
      this.naming.of(named(this.file.path)),
      this.rights.of(EditorState.readOnly.of(true)),
      pairedCommands,
      ...(isBib ? [] : this.help()),
      keymap.of([
        bind('Mod-f', this.find(false, false)),
        bind('Mod-Shift-f', this.find(true, false)),
        bind('Mod-h', this.find(true, true)),
        bind('F3', this.findStep(1), this.findStep(-1)),
        bind('Alt-.', this.name('go')),
        bind('F2', this.name('rename'), this.name('uses')),
        bind('Mod-Enter', () => {
          this.listener?.onProof();
          return true;
        }),
        bind('F7', this.make('table'), showNextUnknown),
        bind('Mod-Alt-n', askForNote),
        bind('Mod-m', this.make('formula')),
        bind('F9', this.make('reference'), this.make('citation')),
        bind('Mod-d', selectNextOccurrence),
        bind('Mod-/', toggleComment),
        bind('Alt-ArrowUp', moveLineUp),
        bind('Alt-ArrowDown', moveLineDown),
        bind('Mod-z', undo),
        bind('Mod-y', redo),
        ...wrapKeys,
        ...closeBracketsKeymap,
        ...defaultKeymap,
        ...historyKeymap,
        indentWithTab,
      ]),
      EditorView.domEventHandlers({
        mousedown: (event, view) => {
          if (event.button !== 0 || !(isMac ? event.metaKey : event.ctrlKey)) return false;
          const at = view.posAtCoords({ x: event.clientX, y: event.clientY });
          const isName = at !== null && this.name('go', at)();
          if (isName) event.preventDefault();
          return isName;
        },
      }),
      heldPlaces,
      ...(isBib ? [] : [incoming(() => this.listener)]),
      markupLanguage,
      this.looks.of(shown(this.context.looks)),
      folding,
      foundMarks,
      notedMarks,
      suggesting((...slip) => this.suggest(...slip)),
      authorMargin,
      environments,
      headingInView,
      cursorInView,
      selectionBar,
      // Longer texts come in as files: one paste of that size would hold up everyone.
      EditorState.changeFilter.of((transaction) => {
        let size = 0;
        transaction.changes.iterChanges((_a, _b, _c, _d, text) => (size += text.length));
        if (size <= LargestInsert || transaction.annotation(Transaction.remote)) return true;
        this.onSave({ ...saved, problem: 'That is more than 2 million characters: upload it as a file.' });
        return false;
      }),
      carets,
      this.sync.extension(),
      EditorView.updateListener.of((u) => {
        this.typing.see(u);
        if (u.docChanged) this.spelling.soon();
        const hint = hintOf(u);
        if (hint) this.listener?.onHint(hint);
        if (!u.selectionSet && !u.docChanged) return;
        this.sayCursor();
        this.tell();
      }),
    ];
  }
}

/** What one may do with a text. */
const allowed = ({ canWrite, suggests: isSuggested }: TextContext): Extension => [
  EditorState.readOnly.of(!canWrite && !isSuggested),
  suggests.of(isSuggested),
];

/** What looks ask of the editor. */
const shown = ({ isQuiet, size, wraps }: Looks): Extension => [
  looksOf(isQuiet),
  EditorView.theme({ '.cm-scroller': { fontSize: `${size}px` } }),
  wraps ? EditorView.lineWrapping : [],
];

const named = (path: string) =>
  EditorView.contentAttributes.of({
    'aria-label': `Source of ${path}`,
    'aria-description': description,
    // The application looks at it itself: it knows what is markup.
    spellcheck: 'false',
    tabindex: '0',
  });
