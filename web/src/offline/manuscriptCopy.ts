import type { FileText, Manuscript, ManuscriptFile, ProofState, SourcesState } from '../api/client';
import { firstPagePath, manuscriptPath, proofPath, shelfPath, sourcesPath } from '../api/queries';
import { textPath } from '../live/textSync';
import { fontPath } from '../proof/fonts';
import { fontsOf, picturePath, sheetPath, type SheetStore } from '../proof/sheetStore';
import { FontCache } from './fontCache';
import { dropKept, getBlobOnce, getKept, getKeptList, keep, keptPaths, noteOpened } from './kept';

/** So many manuscripts are kept for a person: those that were open last. */
const MostKept = 12;

/** What a manuscript is at a moment. */
export interface ManuscriptState {
  manuscript: Manuscript;
  proof: ProofState;
  sources: SourcesState | undefined;
  sheets: SheetStore;
  /** The state of the data that all of it is of. */
  generation: string;
}

/** Keeps one manuscript in this browser, so that it opens without a connection: its texts, its last pages and what was found. */
export class ManuscriptCopy {
  private readonly versions = new Map<number, number>();
  private isNoted = false;
  private firstPage: string | undefined;

  constructor(
    private readonly manuscript: number,
    /** A file's text as the server has it, if it is open here. */
    private readonly stored: (file: number) => Promise<FileText | null>,
  ) {}

  /** Keeps what changed, and lets go of what isn't of it any more. The pages come before the proof that names them. */
  async take(state: ManuscriptState): Promise<void> {
    const { manuscript, proof, sources } = state;
    if (!this.isNoted) {
      await noteOpened(this.manuscript, state.generation, MostKept);
      // Whoever came by a link hasn't been at the shelf.
      await getKeptList(shelfPath);
      this.isNoted = true;
    }
    const first = proof.sheets.entries[0]?.digest;
    if (first !== this.firstPage) {
      await getKept(firstPagePath(this.manuscript));
      this.firstPage = first;
    }
    const kept = await keptPaths(this.manuscript);
    const wanted = new Set<string>();
    for (const file of manuscript.files) {
      if (!file.isText) continue;
      wanted.add(textPath(this.manuscript, file.id));
      await this.takeText(file, proof.versions[file.path]);
    }
    for (const path of await this.takePages(state, kept)) wanted.add(path);
    wanted.add(manuscriptPath(this.manuscript)).add(proofPath(this.manuscript)).add(sourcesPath(this.manuscript));
    await keep(manuscriptPath(this.manuscript), manuscript);
    await keep(proofPath(this.manuscript), proof);
    if (sources) await keep(sourcesPath(this.manuscript), sources);
    await dropKept([...kept].filter((path) => isOwn(path) && !wanted.has(path)));
  }

  /** Keeps a text that is open here, as the server has it; false when it isn't. */
  async takeOpen(file: number): Promise<boolean> {
    const open = await this.stored(file);
    if (!open) return false;
    if (open.version !== this.versions.get(file)) await keep(textPath(this.manuscript, file), open);
    this.versions.set(file, open.version);
    return true;
  }

  // The version that is kept since an earlier time isn't known: then it is fetched.
  private async takeText(file: ManuscriptFile, version: number | undefined): Promise<void> {
    if (await this.takeOpen(file.id)) return;
    const known = this.versions.get(file.id);
    if (known !== undefined && known === version) return;
    this.versions.set(file.id, (await getKept<FileText>(textPath(this.manuscript, file.id))).version);
  }

  private async takePages({ proof, sheets }: ManuscriptState, kept: Set<string>): Promise<Set<string>> {
    const wanted = new Set<string>();
    const fonts = new Set<string>();
    for (const { digest } of proof.sheets.entries) {
      const content = await sheets.fetch(digest);
      const path = sheetPath(this.manuscript, digest);
      wanted.add(path);
      if (!kept.has(path)) await keep(path, content);
      for (const font of fontsOf(content)) fonts.add(font);
      for (const [picture] of content.pictures) {
        const from = picturePath(this.manuscript, picture);
        if (!wanted.has(from) && !kept.has(from)) await getBlobOnce(from);
        wanted.add(from);
      }
    }
    await keepFonts([...fonts].map(fontPath));
    return wanted;
  }
}

// What else was asked for about the manuscript, like its first page on the shelf, stays as it is.
const isOwn = (path: string) => /\/(files\/\d+|proof\/(sheets|pictures)\/[^/]+)$/.test(path);

async function keepFonts(paths: string[]) {
  if (!('caches' in window)) return;
  const cache = await caches.open(FontCache);
  for (const path of paths) if (!(await cache.match(path))) await cache.add(path);
}
