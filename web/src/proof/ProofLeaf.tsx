import {
  BookOpen,
  Download,
  Maximize,
  Minus,
  MoveHorizontal,
  MoveVertical,
  PanelLeft,
  Plus,
  Search,
} from 'lucide-react';
import {
  memo,
  useCallback,
  useEffect,
  useEffectEvent,
  useImperativeHandle,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
  type KeyboardEvent,
  type MouseEvent,
  type Ref,
} from 'react';
import type { Finding, ProofState, SheetEntry } from '../api/client';
import { useRoom } from '../rooms/roomContext';
import { useKept } from '../ui/useKept';
import { useStable } from '../ui/useStable';
import { ChosenBar, type ChosenPassage, type PassageAct } from './ChosenBar';
import { AsWhole, AsWide, Gap, heightOf, layOut, layOutFacing, pageAt, sameSheet } from './pageLayout';
import { ProofFind, type FoundInProof } from './ProofFind';
import { marksOn, notesOn } from './onPages';
import { PageView } from './PageView';
import { Thumbnails } from './Thumbnails';
import { nearest, ProofMap, rowNearest, type PageSpot, type SourcePlace } from './proofMap';
import { ProofStatus } from './ProofStatus';
import type { ProofWatch } from './proofWatch';
import { linkAt, mayOpen, type SheetContent } from './sheet';
import type { SheetStore } from './sheetStore';

/** What the room asks of the proof leaf. */
export interface ProofHandle {
  turnTo: (sheet: number, y?: number) => void;
  /** Shows where a place of the source came to stand. */
  show: (place: SourcePlace) => void;
  /** The source of the words at a point of the window; null where no page is. */
  placeAt: (x: number, y: number) => SourcePlace | null;
  /** The page in view, and the source of what stands at its upper edge; null where there is none. */
  current: () => { sheet: number; place: SourcePlace } | null;
}

interface Props {
  /** The proof to show; null until the first one is there. */
  proof: ProofState | null;
  sheets: SheetStore;
  /** What is marked on the pages; not what is of a word that is still typed. */
  findings: readonly Finding[];
  /** How the pages stand to what is written. */
  watch: ProofWatch;
  follows: boolean;
  onFollow: (follows: boolean) => void;
  onPoint: (place: SourcePlace) => void;
  /** What one has to say of words on the pages; null where one has no say. */
  onPassage: ((act: PassageAct, passage: ChosenPassage) => void) | null;
  ref: Ref<ProofHandle>;
}

/** What lies above and below the view is drawn already, as a share of the view. */
const Ahead = 0.5;

/** The typeset pages. Only those in view are drawn; what changed takes its place without a flicker. */
export const ProofLeaf = memo(function ProofLeaf(props: Props) {
  const { proof, sheets, findings, watch, follows, onFollow, onPoint, onPassage, ref } = props;
  const { manuscript, present, memory, connected } = useRoom();
  const entries = proof?.sheets.entries ?? noEntries;
  const map = useMemo(() => proof && new ProofMap(proof.sheets), [proof]);
  const [zoom, setZoom] = useKept('zoom', AsWide);
  const [range, setRange] = useState({ first: 0, last: 1, current: 1 });
  const [spot, setSpot] = useState<PageSpot | null>(null);
  const scroller = useRef<HTMLDivElement>(null);
  const [{ room, tall }, setView] = useState({ room: 0, tall: 0 });
  // Only where pages are in view as a whole does the height count.
  const high = zoom === AsWhole ? tall - 2 * Gap : undefined;
  const [isFacing, setIsFacing] = useKept('facing', false);
  const [hasSmall, setHasSmall] = useKept('small pages', false);
  const [isReading, setIsReading] = useState(false);
  const [isFinding, setIsFinding] = useState(false);
  const [found, setFound] = useState<{ all: FoundInProof; at: number }>(nothing);
  const layout = useMemo(
    () => (isFacing ? layOutFacing : layOut)(entries, zoom, (room || 500) - 36, high),
    [entries, zoom, room, high, isFacing],
  );
  const { isDrawn, problem, onDrawn } = useDrawn(entries, range);

  // When pages come in or go before what one looks at, it is still the same page: it keeps its ink, and stays where it is.
  const list = proof?.sheets;
  const [seen, setSeen] = useState({ list, moved: 0 });
  if (list && seen.list !== list) {
    const page = range.current - 1;
    const moved = seen.list ? sameSheet(seen.list, list, page) - page : 0;
    setSeen({ list, moved: seen.moved + moved });
    if (moved)
      setRange(({ first, last, current }) => ({ first: first + moved, last: last + moved, current: current + moved }));
  }

  const look = useCallback(() => {
    const box = scroller.current;
    if (!box) return;
    const [from, to] = [box.scrollTop - box.clientHeight * Ahead, box.scrollTop + box.clientHeight * (1 + Ahead)];
    const first = Math.floor(pageAt(layout, from));
    // Both of two that face each other.
    const last = Math.floor(pageAt(layout, to)) + (isFacing ? 1 : 0);
    const current = Math.floor(pageAt(layout, box.scrollTop + box.clientHeight * 0.4)) + 1;
    setRange((r) => (r.first === first && r.last === last && r.current === current ? r : { first, last, current }));
  }, [layout, isFacing]);

  useEffect(() => look(), [look]);

  // The rest comes while nobody waits.
  const current = useEffectEvent(() => range.current - 1);
  useEffect(() => {
    sheets.turnTo(entries.map((e) => e.digest));
    const timer = window.setTimeout(() => {
      // What isn’t fetched now is when it comes into view.
      sheets.fetchRest(current()).catch(() => undefined);
    }, FetchRestAfter);
    return () => window.clearTimeout(timer);
  }, [sheets, entries]);

  useEffect(() => {
    const box = scroller.current;
    if (!box) return;
    const watch = new ResizeObserver(() => setView({ room: box.clientWidth, tall: box.clientHeight }));
    watch.observe(box);
    return () => watch.disconnect();
  }, []);

  const turnTo = (sheet: number, y = 0) => {
    const page = Math.min(sheet, entries.length) - 1;
    if (page < 0) return;
    scroller.current?.scrollTo({ top: layout.tops[page]! + Math.max(0, y * layout.scales[page]! - 140) });
  };
  const showSpot = (next: PageSpot | null) => {
    setSpot(next);
    const box = scroller.current;
    if (!box || !next) return;
    const at = (layout.tops[next.sheet - 1] ?? 0) + next.y * (layout.scales[next.sheet - 1] ?? 1);
    if (at < box.scrollTop + 40 || at > box.scrollTop + box.clientHeight - 60) turnTo(next.sheet, next.y);
  };
  const asked = useRef(0);
  const find = async (place: SourcePlace) => {
    const round = ++asked.current;
    if (!map) return;
    const found = [];
    for (const sheet of map.candidates(place.file, place.offset)) {
      const content = await sheets.fetch(map.sheets.entries[sheet]!.digest).catch(() => null);
      if (!content) continue;
      await sheets.prepare(content).catch(() => undefined);
      found.push(map.spotOn(sheet + 1, content, place.file, place.offset));
    }
    if (round === asked.current) showSpot(nearest(found));
  };
  /** The page at a point of the window, what is drawn on it, and the point on it. */
  const pageUnder = (x: number, y: number) => {
    const page = document.elementsFromPoint(x, y).find((e) => e instanceof HTMLElement && e.dataset.sheet);
    const sheet = page instanceof HTMLElement ? Number(page.dataset.sheet) : 0;
    const content = entries[sheet - 1] && sheets.find(entries[sheet - 1]!.digest);
    if (!page || !content) return null;
    const box = page.getBoundingClientRect();
    const scale = layout.scales[sheet - 1]!;
    return { sheet, content, x: (x - box.left) / scale, y: (y - box.top) / scale };
  };
  const placeAt = (x: number, y: number) => {
    const under = pageUnder(x, y);
    const row = under && rowNearest(under.content, under.y);
    return row ? (map?.sourceAt(under.sheet, under.content, row.x, row.y) ?? null) : null;
  };
  const act = useStable((what: PassageAct, passage: ChosenPassage) => {
    // What comes of it stands beside the pages.
    setIsReading(false);
    onPassage?.(what, passage);
  });
  const sourceAt = useStable((x: number, y: number) => {
    const under = pageUnder(x, y);
    return under ? (map?.sourceAt(under.sheet, under.content, under.x, under.y) ?? null) : null;
  });
  const inView = () => {
    const entry = entries[range.current - 1];
    const content = entry && sheets.find(entry.digest);
    const row = content && rowNearest(content, 0);
    const place = row && map?.sourceAt(range.current, content, row.x, row.y);
    return place ? { sheet: range.current, place } : null;
  };
  useImperativeHandle(ref, () => ({ turnTo, show: (place) => void find(place), placeAt, current: inView }));

  // When pages come into view they stand where they stood, or at the words that were asked for before they were there.
  const isThere = entries.length > 0 && room > 0;
  const hasArrived = useRef(false);
  const arrive = useEffectEvent(() => {
    hasArrived.current = true;
    if (spot) turnTo(spot.sheet, spot.y);
    else scroller.current?.scrollTo({ top: heightOf(layout, memory.get('proof at', 0)) });
  });
  useEffect(() => {
    if (isThere) arrive();
    else hasArrived.current = false;
  }, [isThere]);

  const placed = useRef({ layout, moved: seen.moved });
  useLayoutEffect(() => {
    const before = placed.current;
    placed.current = { layout, moved: seen.moved };
    const box = scroller.current;
    if (!box || !hasArrived.current || before.layout === layout) return;
    const top = heightOf(layout, pageAt(before.layout, box.scrollTop) + seen.moved - before.moved);
    if (Math.abs(top - box.scrollTop) >= 1) box.scrollTo({ top });
  }, [layout, seen.moved]);

  const scrolled = () => {
    look();
    const box = scroller.current;
    // A leaf that is hidden, or has no pages yet, has no place.
    if (box && box.clientHeight > 0 && hasArrived.current) memory.set('proof at', pageAt(layout, box.scrollTop));
  };

  const showFound = useStable((all: FoundInProof, at: number) => {
    setFound({ all, at: at < 0 ? Math.min(found.at, all.length - 1) : at });
    const spot = all[at]?.[0];
    const box = scroller.current;
    if (!spot || !box) return;
    const top = layout.tops[spot.sheet - 1]! + spot.y * layout.scales[spot.sheet - 1]!;
    if (top < box.scrollTop + 30 || top > box.scrollTop + box.clientHeight - 50) turnTo(spot.sheet, spot.y);
  });
  const endFinding = () => {
    setIsFinding(false);
    setFound(nothing);
    scroller.current?.focus();
  };
  const ways = {
    Small: { isOn: hasSmall, set: setHasSmall },
    Facing: { isOn: isFacing, set: setIsFacing },
    Reading: { isOn: isReading, set: setIsReading },
    Find: { isOn: isFinding, set: (on: boolean) => (on ? setIsFinding(true) : endFinding()) },
  };
  const pressInLeaf = (event: KeyboardEvent) => {
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'f' && !event.shiftKey && !event.altKey) {
      event.preventDefault();
      setIsFinding(true);
    } else if (event.key === 'Escape' && isReading) setIsReading(false);
  };

  const scale = layout.scales[range.current - 1] ?? 1;
  const changeZoom = (step: number) => setZoom(Math.min(3, Math.max(0.4, Math.round((scale + step) * 10) / 10)));

  // By key: to the source of the words nearest to the middle of the view.
  const pointByKey = (event: KeyboardEvent) => {
    const box = scroller.current;
    if (event.key !== 'Enter' || event.target !== box || !box || !map) return;
    const middle = box.scrollTop + box.clientHeight / 2;
    const page = Math.floor(pageAt(layout, middle));
    const content = entries[page] && sheets.find(entries[page].digest);
    const row = content && rowNearest(content, (middle - layout.tops[page]!) / layout.scales[page]!);
    const place = row && map.sourceAt(page + 1, content, row.x, row.y);
    if (place) onPoint(place);
  };
  const click = useStable((sheet: number, content: SheetContent, x: number, y: number, event: MouseEvent) => {
    const link = event.ctrlKey || event.metaKey ? linkAt(content, x, y) : undefined;
    if (link) return void follow(link[4], link[5] === 1);
    const place = map?.sourceAt(sheet, content, x, y);
    if (place) onPoint(place);
  });
  const follow = async (target: string, isOutside: boolean) => {
    if (isOutside) {
      if (mayOpen(target)) window.open(target, '_blank', 'noopener,noreferrer');
      return;
    }
    const sheet = map?.sheets.anchors.find((a) => a.name === target)?.sheet;
    if (sheet === undefined) return;
    const content = await sheets.fetch(entries[sheet - 1]!.digest).catch(() => null);
    turnTo(sheet, (content?.anchors.find(([name]) => name === target)?.[1] ?? 0) / 100);
  };

  const findMarks = useCallback(
    (sheet: number, content: SheetContent) => (map ? marksOn({ map, sheets, sheet, content }, findings) : []),
    [map, sheets, findings],
  );
  const findNotes = useCallback(
    (sheet: number, content: SheetContent) =>
      map ? notesOn({ map, sheets, sheet, content }, present, manuscript.files) : [],
    [map, sheets, present, manuscript.files],
  );

  const pages = entries.length;

  return (
    <section
      aria-label="Proof leaf"
      data-leaf="proof"
      className={`flex min-h-0 flex-col bg-proof ${isReading ? 'fixed inset-0 z-30' : 'h-full'}`}
      onKeyDown={pressInLeaf}
    >
      <header className="flex min-h-[37px] shrink-0 flex-wrap items-center gap-x-1.5 gap-y-0.5 border-b border-rule bg-band px-2 py-0.5 whitespace-nowrap">
        <span>
          <span className="max-[1400px]:sr-only">Page </span>
          <PageNumber current={range.current} pages={pages} onGo={(page) => turnTo(page, 0)} /> of {pages || '–'}
        </span>
        <span className="flex items-center gap-0.5">
          <button aria-label="Smaller" className="rounded p-1 hover:bg-page" onClick={() => changeZoom(-0.1)}>
            <Minus className="size-3.5" aria-hidden />
          </button>
          <span className="w-10 text-center">{Math.round(scale * 100)} %</span>
          <button aria-label="Larger" className="rounded p-1 hover:bg-page" onClick={() => changeZoom(0.1)}>
            <Plus className="size-3.5" aria-hidden />
          </button>
          {fits.map(({ name, title, as, icon: Icon }) => (
            <button
              key={name}
              aria-label={name}
              aria-pressed={zoom === as}
              title={title}
              className={`rounded p-1 hover:bg-page ${zoom === as ? 'bg-page/70' : 'text-ink-2'}`}
              onClick={() => setZoom(as)}
            >
              <Icon className="size-3.5" aria-hidden />
            </button>
          ))}
          {views.map(({ name, title, icon: Icon }) => {
            const { isOn, set } = ways[name];
            return (
              <button
                key={name}
                aria-label={name}
                aria-pressed={isOn}
                title={title}
                className={`rounded p-1 hover:bg-page ${isOn ? 'bg-page/70' : 'text-ink-2'}`}
                onClick={() => set(!isOn)}
              >
                <Icon className="size-3.5" aria-hidden />
              </button>
            );
          })}
        </span>
        <label className="flex items-center gap-1.5 text-ink-2" title="The proof turns to the words being written">
          <input
            type="checkbox"
            checked={follows}
            onChange={(e) => onFollow(e.target.checked)}
            className="accent-slate"
          />
          Follow
        </label>
        <ProofStatus proof={proof} watch={watch} isDrawn={isDrawn} problem={problem} />
        <a
          className="button px-2 py-0.5 aria-disabled:opacity-50"
          aria-disabled={!connected}
          title={connected ? 'The PDF' : 'The server makes the PDF: it can be had when the connection is back.'}
          onClick={(event) => connected || event.preventDefault()}
          href={`/api/manuscripts/${manuscript.id}/proof/pdf?download=${encodeURIComponent(manuscript.title + '.pdf')}`}
          download
        >
          <Download className="size-3.5" aria-hidden />
          <span className="sr-only">PDF</span>
        </a>
      </header>
      {isFinding && (
        <ProofFind entries={entries} sheets={sheets} page={range.current} onFound={showFound} onClose={endFinding} />
      )}
      {onPassage && <ChosenBar pages={scroller} sourceAt={sourceAt} onAct={act} />}
      <div className="flex min-h-0 flex-1">
        {hasSmall && (
          <Thumbnails entries={entries} sheets={sheets} current={range.current} onTurn={(sheet) => turnTo(sheet)} />
        )}
        <div
          ref={scroller}
          className="relative min-h-0 min-w-0 flex-1 overflow-auto"
          onScroll={scrolled}
          onKeyDown={pointByKey}
          tabIndex={0}
          role="region"
          aria-label="Pages"
          aria-description="Enter leads to the source of what is in view."
          data-entry
        >
          {pages > 0 ? (
            <div
              className="relative mx-auto"
              style={{ height: layout.height, width: Math.min(layout.width, room || layout.width), marginTop: Gap }}
            >
              {entries.slice(Math.max(0, range.first), range.last + 1).map((entry, i) => {
                const page = Math.max(0, range.first) + i;
                const off = Math.max(0, (Math.min(layout.width, room || layout.width) - layout.width) / 2);
                return (
                  <PageView
                    key={page - seen.moved}
                    sheets={sheets}
                    entry={entry}
                    sheet={page + 1}
                    scale={layout.scales[page]!}
                    top={layout.tops[page]!}
                    left={off + layout.lefts[page]!}
                    spot={spot?.sheet === page + 1 ? spot : null}
                    findMarks={findMarks}
                    findNotes={findNotes}
                    found={foundOn(found, page + 1)}
                    onClick={click}
                    onDrawn={onDrawn}
                  />
                );
              })}
            </div>
          ) : (
            <p className="p-8 text-center text-ink-2">{problem || 'The first proof is being made …'}</p>
          )}
        </div>
      </div>
    </section>
  );
});

/** How pages are looked at. */
const views = [
  { name: 'Small', title: 'All pages, small', icon: PanelLeft },
  { name: 'Facing', title: 'Pages as they face each other', icon: BookOpen },
  { name: 'Reading', title: 'The pages alone, over the whole window; Escape ends it', icon: Maximize },
  { name: 'Find', title: 'Find in the proof', icon: Search },
] as const;

const nothing: { all: FoundInProof; at: number } = { all: [], at: 0 };

/** What was found on a page, and whether it is what is shown. */
const foundOn = ({ all, at }: { all: FoundInProof; at: number }, sheet: number) =>
  all.flatMap((spots, i) =>
    spots.some((s) => s.sheet === sheet) ? spots.map((spot) => ({ spot, isShown: i === at })) : [],
  );

/** How pages take the room there is. */
const fits = [
  { name: 'Fit', title: 'Pages as wide as the leaf', as: AsWide, icon: MoveHorizontal },
  { name: 'Whole', title: 'A whole page in view', as: AsWhole, icon: MoveVertical },
];

/** The page in view; another number leads to that page. */
function PageNumber(props: { current: number; pages: number; onGo: (page: number) => void }) {
  const { current, pages, onGo } = props;
  const [typed, setTyped] = useState<string | null>(null);
  const go = () => {
    const page = Math.round(Number(typed));
    if (typed?.trim() && page >= 1) onGo(Math.min(page, pages));
    setTyped(null);
  };
  return (
    <input
      aria-label="Page"
      inputMode="numeric"
      className="w-7 rounded border border-transparent bg-transparent text-center font-semibold hover:border-rule focus:border-rule focus:bg-page"
      disabled={pages === 0}
      value={typed ?? (pages ? String(current) : '–')}
      onFocus={(e) => e.target.select()}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={go}
      onKeyDown={(e) => {
        if (e.key === 'Enter') go();
        if (e.key === 'Escape') setTyped(null);
      }}
    />
  );
}

const noEntries: SheetEntry[] = [];

/** How long nothing changed before pages that nobody sees are fetched, in milliseconds. */
const FetchRestAfter = 300;

/** Which of the pages in view are drawn as they should be, and why not. */
function useDrawn(entries: SheetEntry[], { first, last }: { first: number; last: number }) {
  const [drawn, setDrawn] = useState<ReadonlyMap<number, { digest: string; problem: string }>>(new Map());
  const onDrawn = useCallback((sheet: number, digest: string, problem: string) => {
    setDrawn((d) => {
      const known = d.get(sheet);
      return known?.digest === digest && known.problem === problem ? d : new Map(d).set(sheet, { digest, problem });
    });
  }, []);
  const inView = entries.slice(first, last + 1).map((e, i) => ({ digest: e.digest, of: drawn.get(first + i + 1) }));
  const isDrawn = inView.every(({ digest, of }) => of?.digest === digest && of.problem === '');
  const problem = inView.find(({ digest, of }) => of?.digest === digest && of.problem)?.of?.problem ?? '';
  return { isDrawn: entries.length > 0 && isDrawn, problem, onDrawn };
}
