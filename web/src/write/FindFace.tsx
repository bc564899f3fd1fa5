import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { CaseSensitive, ChevronDown, ChevronUp, Regex, Type, Undo2, WholeWord, type LucideIcon } from 'lucide-react';
import { useEffect, useEffectEvent, useImperativeHandle, useRef, useState, type KeyboardEvent, type Ref } from 'react';
import {
  post,
  type Found,
  type FoundFile,
  type FoundPlace,
  type OutlineLine,
  type ReplacedPlaces,
  type UndoStep,
} from '../api/client';
import { foundQuery, keys } from '../api/queries';
import { useRemembered, useRoom } from '../rooms/roomContext';
import { useDeferredByTime } from '../ui/useDeferredByTime';
import { plural } from '../ui/words';
import { beginning, placesIn, type FindState } from './finding';
import { FoundList } from './FoundList';

/** What the room asks of the face. */
export interface FindHandle {
  /** Looks for words, in the open file alone or in all; whole ones alone where that is said. */
  begin: (words: string, isWide: boolean, replaces: boolean, isWhole: boolean) => void;
  /** Goes to the next place, or the one before. */
  step: (by: 1 | -1) => void;
}

interface Props {
  /** The file that is open. */
  file: number;
  outline: OutlineLine[];
  onShow: (file: FoundFile, place: FoundPlace) => void;
  /** What is to be marked in the open text. */
  onFound: (found: FoundFile | null) => void;
  onLeave: () => void;
  ref: Ref<FindHandle>;
}

/** How long typing rests before it is looked again, in milliseconds. */
const LookAfter = 120;
const LookAgainAfter = 500;

/** Finds and replaces, in the open file and in the whole manuscript. */
export function FindFace({ file, outline, onShow, onFound, onLeave, ref }: Props) {
  const { manuscript, canWrite, live, connected } = useRoom();
  const [wish, setWish] = useRemembered<FindState>('find', beginning);
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [at, setAt] = useState(-1);
  const [undo, setUndo] = useState<UndoStep[]>([]);
  const client = useQueryClient();
  const words = useRef<HTMLInputElement>(null);
  const replacement = useRef<HTMLInputElement>(null);
  const asked = useDeferredByTime(wish, LookAfter);
  const { data, error, isPlaceholderData } = useQuery({
    ...foundQuery(manuscript.id, asked, asked.isWide ? null : file),
    placeholderData: keepPreviousData,
  });
  const found = asked.query.words.trim() ? data : undefined;
  const places = placesIn(found);
  const change = (part: Partial<FindState>) => {
    setWish({ ...wish, ...part });
    setAt(-1);
  };
  const choose = (part: Partial<FindState['query']>) => change({ query: { ...wish.query, ...part } });

  // What anyone types may be found, or no longer.
  useEffect(() => {
    let timer = 0;
    const again = () => {
      timer ||= window.setTimeout(() => {
        timer = 0;
        void client.invalidateQueries({ queryKey: keys.found(manuscript.id) });
      }, LookAgainAfter);
    };
    const off = [live.on('updates', again), live.on('files', again), live.on('joined', again)];
    return () => {
      window.clearTimeout(timer);
      off.forEach((f) => f());
    };
  }, [live, client, manuscript.id]);

  useEffect(() => {
    onFound(found?.files.find((f) => f.file === file) ?? null);
  }, [found, file, onFound]);
  useEffect(() => () => onFound(null), [onFound]);

  const goTo = (index: number) => {
    const place = places[index];
    if (!place) return;
    setAt(index);
    onShow(place.file, place.place);
  };
  // What isn't looked for yet is gone to when it is found.
  const isSettled = asked === wish && !isPlaceholderData && data !== undefined;
  const pending = useRef<1 | -1 | 0>(0);
  const step = (by: 1 | -1) => {
    pending.current = isSettled ? 0 : by;
    if (isSettled && places.length > 0) goTo((at + by + places.length) % places.length);
  };
  const goOn = useEffectEvent(() => {
    if (pending.current !== 0) step(pending.current);
  });
  useEffect(() => {
    if (isSettled) goOn();
  }, [isSettled]);

  const replacing = useMutation({
    mutationFn: (only: { file: number; version: number; offset: number }[] | null) =>
      post<ReplacedPlaces>(`/api/manuscripts/${manuscript.id}/texts/replace`, {
        query: wish.query,
        with: wish.with,
        file: wish.isWide ? null : file,
        only,
      }),
    onSuccess: (done) => {
      setUndo(done.undo);
      setLeft(new Set());
      void client.invalidateQueries({ queryKey: keys.found(manuscript.id) });
    },
  });
  const takingBack = useMutation({
    mutationFn: () => post(`/api/manuscripts/${manuscript.id}/texts/undo`, undo),
    onSuccess: () => {
      setUndo([]);
      replacing.reset();
      void client.invalidateQueries({ queryKey: keys.found(manuscript.id) });
    },
  });
  const chosen = places.filter((p) => !left.has(p.key));
  const replaceChosen = () =>
    replacing.mutate(left.size === 0 && found?.total === places.length ? null : chosen.map((p) => p.at));
  const replaceOne = () => {
    const place = places[Math.max(0, at)];
    if (place) replacing.mutate([place.at]);
  };

  useImperativeHandle(ref, () => ({
    begin: (selected, isWide, replaces, isWhole) => {
      const whole = isWhole ? { wholeWords: true, matchesCase: true, printedOnly: false } : {};
      const query = { ...wish.query, ...whole, words: selected, isPattern: false };
      change({ isWide, query: selected ? query : wish.query });
      // The face may just have been turned to.
      requestAnimationFrame(() => {
        const field = replaces ? replacement.current : words.current;
        field?.focus();
        field?.select();
      });
    },
    step,
  }));

  const press = (event: KeyboardEvent) => {
    if (event.key === 'Enter' && event.target instanceof HTMLInputElement && event.target.type === 'text') {
      event.preventDefault();
      step(event.shiftKey ? -1 : 1);
    } else if (event.key === 'Escape') {
      event.preventDefault();
      onLeave();
    }
  };

  const problem = (takingBack.error ?? replacing.error ?? (connected ? error : null))?.message;
  const done = replacing.data;
  return (
    <div className="flex flex-col gap-2 px-3 pt-1 pb-4" onKeyDown={press} role="search" aria-label="Find">
      <input
        ref={words}
        type="text"
        className="field w-full bg-leaf"
        aria-label="Find"
        placeholder="Find"
        spellCheck={false}
        value={wish.query.words}
        onChange={(e) => choose({ words: e.target.value })}
      />
      <div className="flex flex-wrap items-center gap-1">
        <Choice
          icon={CaseSensitive}
          says="Capitals matter"
          is={wish.query.matchesCase}
          on={(matchesCase) => choose({ matchesCase })}
        />
        <Choice
          icon={WholeWord}
          says="Whole words"
          is={wish.query.wholeWords}
          on={(wholeWords) => choose({ wholeWords })}
        />
        <Choice
          icon={Regex}
          says="A pattern (regular expression)"
          is={wish.query.isPattern}
          on={(isPattern) => choose({ isPattern })}
        />
        <Choice
          icon={Type}
          says="Only in what prints: no commands, keys, formulas"
          is={wish.query.printedOnly}
          on={(printedOnly) => choose({ printedOnly })}
        />
        <span className="ml-auto flex">
          <Step says="The place before" icon={ChevronUp} onClick={() => step(-1)} />
          <Step says="The next place" icon={ChevronDown} onClick={() => step(1)} />
        </span>
      </div>
      <div className="flex gap-1" role="group" aria-label="Where">
        {[true, false].map((isWide) => (
          <button
            key={String(isWide)}
            aria-pressed={wish.isWide === isWide}
            className={`rounded px-1.5 py-0.5 text-[12.5px] ${wish.isWide === isWide ? 'bg-leaf font-semibold shadow-sm' : 'text-ink-2 hover:bg-page/60'}`}
            onClick={() => change({ isWide })}
          >
            {isWide ? 'All files' : 'This file'}
          </button>
        ))}
      </div>
      {canWrite && (
        <>
          <input
            ref={replacement}
            type="text"
            className="field w-full bg-leaf"
            aria-label="Replace with"
            placeholder="Replace with"
            spellCheck={false}
            value={wish.with}
            onChange={(e) => change({ with: e.target.value })}
          />
          <div className="flex flex-wrap gap-1.5">
            <button
              className="button px-2 py-0.5"
              disabled={places.length === 0 || replacing.isPending}
              onClick={replaceOne}
            >
              Replace one
            </button>
            <button
              className="button px-2 py-0.5"
              disabled={chosen.length === 0 || replacing.isPending}
              onClick={replaceChosen}
            >
              {left.size > 0 ? `Replace ${chosen.length}` : 'Replace all'}
            </button>
          </div>
        </>
      )}
      <div role="status" className="text-[12.5px] text-ink-2">
        {problem ? (
          <span className="text-rubric">{problem}</span>
        ) : !connected ? (
          'Finding waits for the connection.'
        ) : (
          found && (found.total === 0 ? 'Nothing found.' : summary(found, at))
        )}
        {done && !problem && (
          <p className="mt-1 flex flex-wrap items-center gap-1.5 text-ink">
            {undo.length > 0 ? `${plural(done.replaced, 'place')} replaced.` : 'Nothing was replaced.'}
            {done.missed > 0 && ` ${plural(done.missed, 'place')} had other words by then.`}
            {undo.length > 0 && (
              <button className="button px-1.5 py-0" onClick={() => takingBack.mutate()}>
                <Undo2 className="size-3" aria-hidden /> Undo
              </button>
            )}
          </p>
        )}
      </div>
      {found && (
        <FoundList
          found={found}
          places={places}
          outline={outline}
          at={at}
          withWords={wish.with}
          left={canWrite && wish.with ? left : null}
          onLeft={setLeft}
          onGo={goTo}
        />
      )}
      {found && found.total > places.length && (
        <p className="text-[12.5px] text-ink-2">
          {plural(found.total - places.length, 'more place')}: narrow what is looked for to see them here.
        </p>
      )}
    </div>
  );
}

const summary = (found: Found, at: number) =>
  `${at >= 0 ? `${at + 1} of ` : ''}${plural(found.total, 'place')} in ${plural(found.files.length, 'file')}`;

function Choice(props: { icon: LucideIcon; says: string; is: boolean; on: (is: boolean) => void }) {
  const { icon: Icon, says, is, on } = props;
  return (
    <button
      aria-pressed={is}
      aria-label={says}
      title={says}
      className={`rounded border p-1 ${is ? 'border-slate bg-slate-tint text-slate' : 'border-transparent text-ink-2 hover:bg-page/60'}`}
      onClick={() => on(!is)}
    >
      <Icon className="size-4" aria-hidden />
    </button>
  );
}

function Step({ says, icon: Icon, onClick }: { says: string; icon: LucideIcon; onClick: () => void }) {
  return (
    <button aria-label={says} title={says} className="rounded p-1 text-ink-2 hover:bg-page/60" onClick={onClick}>
      <Icon className="size-4" aria-hidden />
    </button>
  );
}
