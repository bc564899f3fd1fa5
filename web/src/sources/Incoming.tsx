import { useMutation, useQuery } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import type { OfferedSource } from '../api/client';
import { catalogueQuery, lookQuery } from '../api/queries';
import { useDeferredByTime } from '../ui/useDeferredByTime';
import { Panel } from '../ui/Panel';

interface Props {
  manuscript: number;
  files: string[];
  kind: 'paste' | 'lookup';
  onAdd: (text: string, file: string | null, count: number) => Promise<unknown>;
  onClose: () => void;
}

/** New sources on their way in: pasted, from a file, or from the catalogue. Nothing goes in before it was looked at. */
export function Incoming({ manuscript, files, kind, onAdd, onClose }: Props) {
  const [text, setText] = useState('');
  const [words, setWords] = useState('');
  const [asked, setAsked] = useState('');
  const [chosen, setChosen] = useState<Set<number> | null>(null);
  const [file, setFile] = useState(files[0] ?? '');
  const chooser = useRef<HTMLInputElement>(null);
  // What is pasted is looked at as soon as typing rests; what is looked up, when one asks.
  const rested = useDeferredByTime(text, 250);
  const isPaste = kind === 'paste';
  const looked = useQuery({ ...lookQuery(manuscript, isPaste ? rested : ''), retry: false });
  const found = useQuery({ ...catalogueQuery(manuscript, asked), retry: false });
  const { data: offer, error, isFetching } = isPaste ? looked : found;
  const adding = useMutation({
    mutationFn: (records: OfferedSource[]) =>
      onAdd(records.map((r) => r.text).join('\n'), file || null, records.length),
    onSuccess: onClose,
  });
  const problem = (adding.error ?? error)?.message;
  const busy = isFetching || adding.isPending;
  // What is pasted is wanted, but for what is in the pool already; what is found, as far as it is chosen.
  const picked = chosen ?? new Set(isPaste ? offer?.records.flatMap((r, i) => (r.twin ? [] : [i])) : []);
  const ask = () => {
    setChosen(null);
    if (asked === words) void found.refetch();
    setAsked(words);
  };
  const stop = () => setAsked('');
  const add = () => offer && adding.mutate(offer.records.filter((_, i) => picked.has(i)));
  const toggle = (i: number) => {
    const next = new Set(picked);
    if (!next.delete(i)) next.add(i);
    setChosen(next);
  };

  return (
    <Panel
      title={kind === 'paste' ? 'Paste or import sources' : 'Look up a source'}
      className="flex max-h-[88vh] w-[46rem] flex-col"
      onClose={onClose}
    >
      {kind === 'paste' ? (
        <>
          <textarea
            aria-label="Records"
            autoFocus
            className="field mt-3 h-36 shrink-0 font-mono text-[12.5px]"
            placeholder="Records as a search service gives them: BibTeX, RIS or CSL-JSON, one or many."
            value={text}
            spellCheck={false}
            onChange={(e) => {
              setText(e.target.value);
              setChosen(null);
            }}
          />
          <div className="mt-2 flex items-center gap-2">
            <button className="button" onClick={() => chooser.current?.click()}>
              Choose a file
            </button>
            <input
              ref={chooser}
              type="file"
              aria-label="A file with records"
              accept=".bib,.ris,.json,.txt"
              className="sr-only"
              onChange={(e) => void e.target.files?.[0]?.text().then(setText)}
            />
            {offer && <span className="text-ink-2">taken for {offer.format}</span>}
          </div>
        </>
      ) : (
        <form
          className="mt-3 flex gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            ask();
          }}
        >
          <input
            aria-label="Words, an author or an identifier"
            autoFocus
            className="field"
            placeholder="Words, an author, a year, or an identifier such as 10.5555/…"
            value={words}
            onChange={(e) => setWords(e.target.value)}
          />
          {isFetching && !offer ? (
            <button type="button" className="button" onClick={stop}>
              Stop
            </button>
          ) : (
            <button className="button button-main" disabled={!words.trim()}>
              Look up
            </button>
          )}
        </form>
      )}
      {!isPaste && isFetching && !offer && (
        <p role="status" className="mt-3 text-ink-2">
          Asking the catalogue …
        </p>
      )}
      {problem && (
        <p role="alert" className="mt-3 text-rubric">
          {problem}
        </p>
      )}
      {offer && offer.problems.length > 0 && (
        <ul
          role="alert"
          className="mt-3 max-h-24 shrink-0 space-y-1 overflow-y-auto rounded bg-note px-3 py-2 text-[12.5px]"
        >
          {offer.problems.map((p, i) => (
            <li key={i}>{p}</li>
          ))}
        </ul>
      )}
      {offer && offer.records.length === 0 && kind === 'lookup' && (
        <p role="status" className="mt-3 text-ink-2">
          The catalogue has nothing that fits. Try fewer words, or the author alone.
        </p>
      )}
      {offer && offer.records.length > 0 && (
        <ul
          aria-label="Found"
          className="mt-3 min-h-0 flex-1 divide-y divide-rule/70 overflow-y-auto border-y border-rule"
        >
          {offer.records.map((r, i) => (
            <Offered key={i} record={r} isChosen={picked.has(i)} onToggle={() => toggle(i)} />
          ))}
        </ul>
      )}
      <div className="mt-4 flex shrink-0 items-center gap-2">
        {files.length > 1 && (
          <label className="flex items-center gap-2 text-ink-2">
            into
            <select className="field w-auto" value={file} onChange={(e) => setFile(e.target.value)}>
              {files.map((p) => (
                <option key={p}>{p}</option>
              ))}
            </select>
          </label>
        )}
        <button className="button ml-auto" onClick={onClose}>
          Cancel
        </button>
        <button className="button button-main" disabled={picked.size === 0 || busy} onClick={add}>
          {picked.size === 0 ? 'Add' : picked.size === 1 ? 'Add this source' : `Add ${picked.size} sources`}
        </button>
      </div>
    </Panel>
  );
}

function Offered({ record, isChosen, onToggle }: { record: OfferedSource; isChosen: boolean; onToggle: () => void }) {
  return (
    <li>
      <label className="flex cursor-pointer items-start gap-2.5 px-1 py-2 hover:bg-paper">
        <input type="checkbox" className="mt-1" checked={isChosen} onChange={onToggle} />
        <span className="min-w-0 flex-1">
          <span className="font-serif text-[15px]">{record.title || 'without a title'}</span>
          <span className="block text-[12.5px] text-ink-2">
            {[record.authors, record.year, record.type].filter(Boolean).join(' · ')}
          </span>
        </span>
        <span className="flex shrink-0 flex-col items-end gap-1">
          <span className="font-mono text-[12px] text-plum">{record.key}</span>
          {record.twin && <span className="chip bg-plum-tint text-plum">you have it: {record.twin}</span>}
          {record.missing.length > 0 && (
            <span className="chip bg-ochre-tint text-ochre-ink">no {record.missing.join(', ')}</span>
          )}
        </span>
      </label>
    </li>
  );
}
