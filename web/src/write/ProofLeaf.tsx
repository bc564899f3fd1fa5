import { Download, Minus, Plus } from 'lucide-react';
import {
  memo,
  useCallback,
  useEffect,
  useEffectEvent,
  useImperativeHandle,
  useRef,
  useState,
  type KeyboardEvent,
  type Ref,
} from 'react';
import { get, type PageSpot, type ManuscriptFile } from '../api/client';
import type { Present } from '../live/live';
import { useRoom } from '../rooms/roomContext';
import { useKept } from '../ui/useKept';
import { pdfjs } from './pdf';
import { useProofPages, type ProofPages, type ShownProof } from './useProofPages';

/** What the room asks of the proof leaf. */
export interface ProofHandle {
  turnTo: (sheet: number, y?: number) => void;
  show: (spot: PageSpot) => void;
}

interface Props {
  /** The revision to show; null until the first proof is there. */
  revision: number | null;
  /** How long typesetting it took; null until it is known. */
  milliseconds: number | null;
  isBusy: boolean;
  /** Whether what is written can't be stored just now, so that no pages follow. */
  isStopped: boolean;
  follows: boolean;
  onFollow: (follows: boolean) => void;
  onPoint: (sheet: number, x: number, y: number) => void;
  ref: Ref<ProofHandle>;
}

const GAP = 14;
/** The typeset pages. Only those in view are drawn; a new proof takes their place without a flicker. */
export const ProofLeaf = memo(function ProofLeaf(props: Props) {
  const { revision, milliseconds, isBusy, isStopped, follows, onFollow, onPoint, ref } = props;
  const { manuscript, present, memory } = useRoom();
  const others = useOthers(manuscript.id, present, manuscript.files, revision);
  const { shown, isDrawn, problem, track } = useProofPages(manuscript.id, revision, memory);
  const [zoom, setZoom] = useKept('zoom', 0);
  const [range, setRange] = useState({ first: 0, last: 2, current: 1 });
  const [spot, setSpot] = useState<PageSpot | null>(null);
  const scroller = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState(0);
  // At 0 a page takes the leaf's width.
  const fitting = shown ? Math.max(0.4, Math.floor((((room || 500) - 36) / shown.width) * 20) / 20) : 1;
  const scale = zoom || fitting;
  const pitch = shown ? shown.height * scale + GAP : 1;

  const look = useCallback(() => {
    const box = scroller.current;
    if (!box || !shown) return;
    const first = Math.max(0, Math.floor((box.scrollTop - pitch * 0.5) / pitch));
    const last = Math.min(
      shown.document.numPages - 1,
      Math.ceil((box.scrollTop + box.clientHeight + pitch * 0.5) / pitch) - 1,
    );
    const current = Math.min(shown.document.numPages, Math.floor((box.scrollTop + box.clientHeight * 0.4) / pitch) + 1);
    setRange((r) => (r.first === first && r.last === last && r.current === current ? r : { first, last, current }));
  }, [shown, pitch]);

  useEffect(() => look(), [look]);

  useEffect(() => {
    const box = scroller.current;
    if (!box) return;
    const watch = new ResizeObserver(() => setRoom(box.clientWidth));
    watch.observe(box);
    return () => watch.disconnect();
  }, []);

  const turnTo = (sheet: number, y = 0) => {
    scroller.current?.scrollTo({ top: (sheet - 1) * pitch + Math.max(0, y * scale - 140) });
  };
  useImperativeHandle(ref, () => ({
    turnTo,
    show(next) {
      setSpot(next);
      const box = scroller.current;
      if (!box) return;
      const at = (next.sheet - 1) * pitch + next.y * scale;
      if (at < box.scrollTop + 40 || at > box.scrollTop + box.clientHeight - 60) turnTo(next.sheet, next.y);
    },
  }));

  // When pages come into view they stand where they stood, or at the words that were asked for before they were there.
  const isThere = shown !== null && room > 0;
  const hasArrived = useRef(false);
  const arrive = useEffectEvent(() => {
    hasArrived.current = true;
    if (spot) turnTo(spot.sheet, spot.y);
    else scroller.current?.scrollTo({ top: memory.get('proof at', 0) * pitch });
  });
  useEffect(() => {
    if (isThere) arrive();
    else hasArrived.current = false;
  }, [isThere]);
  const scrolled = () => {
    look();
    const box = scroller.current;
    // A leaf that is hidden, or has no pages yet, has no place.
    if (box && box.clientHeight > 0 && hasArrived.current) memory.set('proof at', box.scrollTop / pitch);
  };

  const changeZoom = (step: number) => {
    const next = Math.min(3, Math.max(0.4, Math.round((scale + step) * 10) / 10));
    const box = scroller.current;
    const share = box ? box.scrollTop / box.scrollHeight : 0;
    setZoom(next);
    requestAnimationFrame(() => box?.scrollTo({ top: share * box.scrollHeight }));
  };
  // By key: to the source of the words nearest to the middle of the view.
  const pointByKey = (event: KeyboardEvent) => {
    const box = scroller.current;
    if (event.key !== 'Enter' || event.target !== box || !box) return;
    const view = box.getBoundingClientRect();
    const off = (r: DOMRect) => Math.abs((r.top + r.bottom) / 2 - (view.top + view.bottom) / 2);
    const words = [...box.querySelectorAll('.proof-text span')].map((e) => ({ e, r: e.getBoundingClientRect() }));
    const nearest = words.filter(({ r }) => r.width > 0).sort((a, b) => off(a.r) - off(b.r))[0];
    const sheet = nearest?.e.closest<HTMLElement>('[data-sheet]');
    if (!nearest || !sheet) return;
    const page = sheet.getBoundingClientRect();
    const { left, top, width, height } = nearest.r;
    onPoint(Number(sheet.dataset.sheet), (left + width / 2 - page.left) / scale, (top + height / 2 - page.top) / scale);
  };

  const pages = shown?.document.numPages ?? 0;
  const isCurrent = !isBusy && !isStopped && isDrawn && !problem;

  return (
    <section aria-label="Proof leaf" data-leaf="proof" className="flex h-full min-h-0 flex-col bg-proof">
      <header className="flex min-h-[37px] shrink-0 flex-wrap items-center gap-x-3 gap-y-0.5 border-b border-rule bg-band px-3 py-0.5 whitespace-nowrap">
        <span>
          Page <b className="font-semibold">{pages ? range.current : '–'}</b> of {pages || '–'}
        </span>
        <span className="flex items-center gap-0.5">
          <button aria-label="Smaller" className="rounded p-1 hover:bg-white" onClick={() => changeZoom(-0.1)}>
            <Minus className="size-3.5" aria-hidden />
          </button>
          <span className="w-11 text-center">{Math.round(scale * 100)} %</span>
          <button aria-label="Larger" className="rounded p-1 hover:bg-white" onClick={() => changeZoom(0.1)}>
            <Plus className="size-3.5" aria-hidden />
          </button>
          <button
            aria-pressed={zoom === 0}
            title="Pages as wide as the leaf"
            className={`rounded px-1.5 py-0.5 hover:bg-white ${zoom === 0 ? 'font-semibold' : 'text-ink-2'}`}
            onClick={() => setZoom(0)}
          >
            Fit
          </button>
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
        <span
          className="ml-auto flex min-w-0 items-center gap-1.5 text-ink-2"
          data-testid="proof-state"
          title={milliseconds === null ? undefined : `Typeset in ${Math.round(milliseconds)} ms`}
        >
          <span className={`size-2 shrink-0 rounded-full ${isCurrent ? 'bg-moss' : 'bg-ochre'}`} aria-hidden />
          <span className="truncate">
            {problem || (isStopped ? 'the last pages' : isCurrent ? 'current' : 'typesetting …')}
          </span>
        </span>
        <a
          className="button px-2 py-0.5"
          href={`/api/manuscripts/${manuscript.id}/proof/pdf?download=${encodeURIComponent(manuscript.title + '.pdf')}`}
          download
        >
          <Download className="size-3.5" aria-hidden /> PDF
        </a>
      </header>
      <div
        ref={scroller}
        className="relative min-h-0 flex-1 overflow-auto"
        onScroll={scrolled}
        onKeyDown={pointByKey}
        tabIndex={0}
        role="region"
        aria-label="Pages"
        aria-description="Enter leads to the source of what is in view."
        data-entry
      >
        {shown ? (
          <div
            className="relative mx-auto"
            style={{ height: pages * pitch + GAP, width: shown.width * scale, marginTop: GAP }}
          >
            {Array.from({ length: range.last - range.first + 1 }, (_, i) => range.first + i)
              .filter((i) => i < pages)
              .map((i) => (
                <PageView
                  key={i}
                  shown={shown}
                  sheet={i + 1}
                  scale={scale}
                  top={i * pitch}
                  spot={spot?.sheet === i + 1 ? spot : null}
                  others={others.filter((o) => o.spot.sheet === i + 1)}
                  onPoint={onPoint}
                  track={track}
                />
              ))}
          </div>
        ) : (
          <p className="p-8 text-center text-ink-2">{problem || 'The first proof is being made …'}</p>
        )}
      </div>
    </section>
  );
});

interface OnPage {
  seat: string;
  person: Present['person'];
  spot: PageSpot;
}

/** Where on the pages the others are. Asked a moment after they moved, since it is a look and no more. */
function useOthers(manuscript: number, present: Present[], files: ManuscriptFile[], revision: number | null): OnPage[] {
  const [others, setOthers] = useState<OnPage[]>([]);
  const where = present
    .flatMap((p) => {
      const path = files.find((x) => x.id === p.place?.file)?.path;
      return p.place && path ? [`${p.seat}\n${path}\n${p.place.line}`] : [];
    })
    .join('\n\n');
  useEffect(() => {
    let gone = false;
    const timer = window.setTimeout(() => {
      const asked = where.split('\n\n').map(async (place): Promise<OnPage | null> => {
        const [seat, path, line] = place.split('\n');
        const person = present.find((p) => p.seat === seat)?.person;
        if (!person) return null;
        const query = `file=${encodeURIComponent(path!)}&line=${line}&column=1`;
        const spot = await get<PageSpot | null>(`/api/manuscripts/${manuscript}/proof/spot?${query}`).catch(() => null);
        return spot && { seat: seat!, person, spot };
      });
      void Promise.all(asked).then((found) => !gone && setOthers(found.filter((o) => o !== null)));
    }, 400);
    return () => {
      gone = true;
      window.clearTimeout(timer);
    };
    // The places are all that matters of who is present.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [manuscript, where, revision]);
  return others;
}

/** One page: a picture with its text over it for selecting. Both are made aside and then put in place at once. */
function PageView(props: {
  shown: ShownProof;
  sheet: number;
  scale: number;
  top: number;
  spot: PageSpot | null;
  others: OnPage[];
  onPoint: (sheet: number, x: number, y: number) => void;
  track: ProofPages['track'];
}) {
  const { shown, sheet, scale, top, spot, others, onPoint, track } = props;
  const host = useRef<HTMLDivElement>(null);
  useEffect(() => {
    let gone = false;
    let task: { cancel: () => void } | null = null;
    const done = track(sheet, shown.revision);
    const draw = async () => {
      const page = await shown.document.getPage(sheet);
      if (gone) return;
      const ratio = window.devicePixelRatio || 1;
      const canvas = document.createElement('canvas');
      const viewport = page.getViewport({ scale: scale * ratio });
      canvas.width = Math.floor(viewport.width);
      canvas.height = Math.floor(viewport.height);
      canvas.style.cssText = 'position:absolute;inset:0;width:100%;height:100%';
      canvas.setAttribute('aria-hidden', 'true');
      const rendering = page.render({ canvas, viewport });
      task = rendering;
      // It may be cancelled while the text is still being read, before anyone waits for it.
      rendering.promise.catch(() => undefined);
      const text = document.createElement('div');
      text.className = 'proof-text';
      text.style.setProperty('--scale-factor', String(scale));
      text.style.setProperty('--total-scale-factor', String(scale));
      const layer = new pdfjs.TextLayer({
        textContentSource: await page.getTextContent(),
        container: text,
        viewport: page.getViewport({ scale }),
      });
      await Promise.all([rendering.promise, layer.render()]);
      if (!gone) host.current?.replaceChildren(canvas, text);
    };
    draw().then(done, done);
    return () => {
      gone = true;
      done();
      task?.cancel();
    };
  }, [shown, sheet, scale, track]);
  return (
    <div
      className="absolute left-0 bg-white shadow-[0_2px_9px_rgb(31_42_55/22%)]"
      style={{ top, width: shown.width * scale, height: shown.height * scale }}
      data-sheet={sheet}
    >
      {spot && (
        <div
          className="pointer-events-none absolute z-10 bg-mark/45 mix-blend-multiply"
          style={{
            left: 0.09 * shown.width * scale,
            right: 0.09 * shown.width * scale,
            top: spot.y * scale - 1,
            height: spot.height * scale * 1.25 + 2,
          }}
          aria-hidden
        />
      )}
      {others.map((o) => (
        <span
          key={o.seat}
          className="absolute right-0 z-10 rounded-l px-1.5 py-px text-[11px] font-medium text-white"
          style={{ top: o.spot.y * scale, background: o.person.colour }}
        >
          {o.person.name.split(' ')[0]}
        </span>
      ))}
      <div
        ref={host}
        className="absolute inset-0"
        role="presentation"
        onClick={(e) => {
          if (window.getSelection()?.toString()) return;
          const box = e.currentTarget.getBoundingClientRect();
          onPoint(sheet, (e.clientX - box.left) / scale, (e.clientY - box.top) / scale);
        }}
      />
    </div>
  );
}
