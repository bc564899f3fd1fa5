import { Refusal } from '../api/client';
import { keys, queryClient } from '../api/queries';
import { applied } from '../live/difference';
import type { ProofNews } from '../live/live';
import { getBlobOnce, getOnce } from '../offline/kept';
import * as fonts from './fonts';
import type { SheetContent } from './sheet';

/** Pictures that are kept, at most; what isn't on a page in view is let go first. */
const MostPictures = 80;

/** Sheets that are fetched at a time while nobody waits for them. */
const AtATime = 4;

/** The fonts that a sheet is drawn with. */
export const fontsOf = (sheet: SheetContent) => [...new Set(sheet.styles.map(([font]) => font))];

type Picture = ImageBitmap | HTMLCanvasElement;

/** Where what is drawn on a sheet is asked for. */
export const sheetPath = (manuscript: number, digest: string) =>
  `/api/manuscripts/${manuscript}/proof/sheets/${digest}`;

/** Where a picture of a sheet's is asked for. */
export const picturePath = (manuscript: number, digest: string) =>
  `/api/manuscripts/${manuscript}/proof/pictures/${digest}`;

/** What is drawn on the sheets of one manuscript: by digest, so nothing is fetched twice. */
export class SheetStore {
  private readonly sheets = new Map<string, SheetContent>();
  private readonly fetching = new Map<string, Promise<SheetContent>>();
  private readonly pictures = new Map<string, Picture | null>();
  private readonly painting = new Map<string, Promise<void>>();
  private lastList: string[] = [];
  private round = 0;

  constructor(private readonly manuscript: number) {}

  /** What is drawn on a sheet, if it is here. */
  find = (digest: string): SheetContent | undefined => this.sheets.get(digest);

  /** Takes what came without asking: sheets that are made of others, where those are here. */
  take(sheets: ProofNews['sheets']) {
    for (const [digest, { from, difference }] of Object.entries(sheets)) {
      const before = this.sheets.get(from);
      if (before) this.sheets.set(digest, applied(before, difference));
    }
  }

  /** What is drawn on a sheet. Rejects when it can't be had. */
  fetch(digest: string): Promise<SheetContent> {
    const known = this.sheets.get(digest);
    if (known) return Promise.resolve(known);
    let asked = this.fetching.get(digest);
    if (!asked) {
      asked = getOnce<SheetContent>(sheetPath(this.manuscript, digest))
        .then((content) => {
          this.sheets.set(digest, content);
          return content;
        })
        .catch((e: unknown) => {
          // The list that names it is of a proof that isn't the newest.
          if (e instanceof Refusal && e.status === 404)
            void queryClient.invalidateQueries({ queryKey: keys.proof(this.manuscript) });
          throw e;
        })
        .finally(() => this.fetching.delete(digest));
      this.fetching.set(digest, asked);
    }
    return asked;
  }

  /** A new list of sheets: those of the one before stay, since they are still shown; older ones go. */
  turnTo(digests: string[]) {
    const wanted = new Set([...digests, ...this.lastList]);
    for (const digest of this.sheets.keys()) if (!wanted.has(digest)) this.sheets.delete(digest);
    this.lastList = digests;
    this.round++;
  }

  /** Fetches the rest of the list, those nearest to a sheet first, a few at a time. A newer list ends it. */
  async fetchRest(near: number) {
    const round = this.round;
    const missing = this.lastList
      .map((digest, i) => ({ digest, far: Math.abs(i - near) }))
      .filter(({ digest }) => !this.sheets.has(digest))
      .sort((a, b) => a.far - b.far);
    for (let i = 0; i < missing.length && round === this.round; i += AtATime) {
      await Promise.all(missing.slice(i, i + AtATime).map(({ digest }) => this.fetch(digest)));
    }
  }

  hasFonts = (sheet: SheetContent) => fonts.areThere(fontsOf(sheet));

  /** Whether all that a sheet is drawn with is here. */
  isReady = (sheet: SheetContent) =>
    this.hasFonts(sheet) && sheet.pictures.every(([digest]) => this.pictures.has(digest));

  /** Fetches what a sheet is drawn with. A picture that can't be drawn is left out; fonts are waited for. */
  async prepare(sheet: SheetContent): Promise<void> {
    await Promise.all([
      fonts.load(fontsOf(sheet)),
      ...sheet.pictures.map(([digest, format]) => this.paint(digest, format)),
    ]);
  }

  picture = (digest: string): Picture | null => {
    const known = this.pictures.get(digest);
    if (known) {
      // Used last, let go last.
      this.pictures.delete(digest);
      this.pictures.set(digest, known);
    }
    return known ?? null;
  };

  private paint(digest: string, format: 'png' | 'jpeg' | 'pdf'): Promise<void> {
    if (this.pictures.has(digest)) return Promise.resolve();
    let asked = this.painting.get(digest);
    if (!asked) {
      asked = this.read(digest, format)
        .then((picture) => this.keep(digest, picture))
        .finally(() => this.painting.delete(digest));
      this.painting.set(digest, asked);
    }
    return asked;
  }

  private async read(digest: string, format: 'png' | 'jpeg' | 'pdf'): Promise<Picture | null> {
    const blob = await getBlobOnce(picturePath(this.manuscript, digest));
    try {
      if (format !== 'pdf') return await createImageBitmap(blob);
      // What draws PDFs is large: it comes only where a page has one.
      const { drawFigure } = await import('./pdfFigure');
      return await drawFigure(await blob.arrayBuffer(), Number(/-(\d+)$/.exec(digest)?.[1] ?? 1));
    } catch {
      // The bytes are here and can't be drawn: asking again gives the same.
      return null;
    }
  }

  private keep(digest: string, picture: Picture | null) {
    this.pictures.set(digest, picture);
    for (const oldest of this.pictures.keys()) {
      if (this.pictures.size <= MostPictures) break;
      const gone = this.pictures.get(oldest);
      if (gone instanceof ImageBitmap) gone.close();
      this.pictures.delete(oldest);
    }
  }
}
