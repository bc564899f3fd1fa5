import type { FileText, ManuscriptFile } from '../api/client';
import { saved, type SaveState } from '../live/textSync';
import { knownOf } from './completion/completion';
import type { Looks } from './looks';
import { OpenText, type TextContext } from './openText';

/** So many texts stay open; of more, the one that was shown longest ago is closed. */
const MostOpen = 12;

/** How saving stands when several texts are open: what waits in all of them. */
export function together(states: Iterable<SaveState>): SaveState {
  const sum = { ...saved };
  for (const s of states) {
    sum.waiting += s.waiting;
    sum.offline ||= s.offline;
    sum.problem ||= s.problem;
  }
  return sum;
}

/** After this time another number of waiting changes is told, in milliseconds. */
const TellAfter = 50;

/** The texts of a manuscript that one has open. They stay so while one is in another file or another room. */
export class TextDesk {
  // In the order in which they were shown last.
  private readonly texts = new Map<number, Promise<OpenText>>();
  private readonly states = new Map<number, SaveState>();
  private readonly listeners = new Set<() => void>();
  private state = saved;
  private count = 0;
  private telling = 0;

  constructor(private readonly context: TextContext) {}

  /** How saving stands. */
  get save(): SaveState {
    return this.state;
  }

  /** Rises when a text has to be opened anew. */
  get round(): number {
    return this.count;
  }

  listen = (told: () => void) => {
    this.listeners.add(told);
    return () => void this.listeners.delete(told);
  };

  /** A file's text; it is fetched when it isn't open. */
  async open(file: ManuscriptFile): Promise<OpenText> {
    const known = this.texts.get(file.id);
    const text =
      known ??
      OpenText.open(
        this.context,
        file,
        (s) => this.note(file.id, s),
        () => void this.reopen(file.id),
        (packages, isLoaded) => void this.load(packages, isLoaded),
      );
    this.texts.delete(file.id);
    this.texts.set(file.id, text);
    try {
      const open = await text;
      await this.closeOldest(file.id);
      return open;
    } catch (e) {
      if (this.texts.get(file.id) === text) this.texts.delete(file.id);
      throw e;
    }
  }

  /** A file's text as the server has it, if it is open; null when it isn't. */
  async stored(file: number): Promise<FileText | null> {
    return (await this.texts.get(file)?.catch(() => null))?.stored ?? null;
  }

  /** One may write by now, or no longer. */
  async allow(canWrite: boolean) {
    this.context.canWrite = canWrite;
    for (const text of await this.all()) text.allow();
  }

  /** What one types is a suggestion by now, or no longer. */
  async suggest(suggests: boolean) {
    this.context.suggests = suggests;
    for (const text of await this.all()) text.allow();
  }

  /** Shows the texts in other looks. */
  async look(looks: Looks) {
    this.context.looks = looks;
    for (const text of await this.all()) text.look(looks);
  }

  /** Closes the text whose words weren't taken, by its tab's name, so that it is fetched anew. */
  async restart(clientId: string) {
    for (const [id, text] of this.texts) {
      if ((await text.catch(() => null))?.clientId === clientId) return this.reopen(id);
    }
  }

  /** Closes all. */
  close() {
    for (const [id] of this.texts) void this.closeOne(id);
  }

  /** Loads packages in the preamble, or no longer. */
  private async load(packages: readonly string[], isLoaded: boolean) {
    // What is only suggested needs nothing yet.
    if (this.context.suggests) return;
    const known = await knownOf(this.context.manuscript);
    const main = known?.manuscript?.files.find((f) => f.path === known.manuscript?.mainFile);
    if (main) (await this.open(main).catch(() => null))?.loadPackages(packages, isLoaded, known!.guide);
  }

  private async all(): Promise<OpenText[]> {
    const found = await Promise.all([...this.texts.values()].map((t) => t.catch(() => null)));
    return found.filter((t) => t !== null);
  }

  private async reopen(id: number) {
    await this.closeOne(id);
    this.count++;
    this.tell();
  }

  private async closeOldest(except: number) {
    for (const [id, text] of this.texts) {
      if (this.texts.size <= MostOpen) return;
      const open = id === except ? null : await text.catch(() => null);
      if (open && open.waiting === 0 && !open.view.dom.isConnected) await this.closeOne(id);
    }
  }

  private async closeOne(id: number) {
    const text = this.texts.get(id);
    this.texts.delete(id);
    (await text?.catch(() => null))?.close();
    this.states.delete(id);
    this.sum();
  }

  private note(id: number, state: SaveState) {
    this.states.set(id, state);
    this.sum();
  }

  private sum() {
    const next = together(this.states.values());
    const { waiting, offline, problem } = this.state;
    if (next.waiting === waiting && next.offline === offline && next.problem === problem) return;
    this.state = next;
    // How many changes wait is told when there is time for it: pages that are drawn in time with fast keys would never be done.
    const isSame = next.waiting > 0 === waiting > 0 && next.offline === offline && next.problem === problem;
    if (!isSame) this.tell();
    else this.telling ||= window.setTimeout(() => this.tell(), TellAfter);
  }

  private tell() {
    window.clearTimeout(this.telling);
    this.telling = 0;
    this.listeners.forEach((told) => told());
  }
}
