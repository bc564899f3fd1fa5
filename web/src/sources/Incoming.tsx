import { useEffect, useRef, useState } from 'react';
import { call, get, type OfferedSource, type SourceOffer } from '../api/client';
import { Panel } from '../ui/Panel';

interface Props {
  base: string;
  files: string[];
  kind: 'paste' | 'lookup';
  onAdd: (text: string, file: string | null, count: number) => Promise<unknown>;
  onClose: () => void;
}

/** New sources on their way in: pasted, from a file, or from the catalogue. Nothing goes in before it was looked at. */
export function Incoming({ base, files, kind, onAdd, onClose }: Props) {
  const [text, setText] = useState('');
  const [words, setWords] = useState('');
  const [offer, setOffer] = useState<SourceOffer | null>(null);
  const [chosen, setChosen] = useState<Set<number>>(new Set());
  const [file, setFile] = useState(files[0] ?? '');
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState('');
  const asked = useRef<AbortController | null>(null);
  const chooser = useRef<HTMLInputElement>(null);

  const show = (found: SourceOffer, all: boolean) => {
    setOffer(found);
    setChosen(new Set(all ? found.records.flatMap((r, i) => (r.twin ? [] : [i])) : []));
  };
  // What is pasted is looked at as soon as typing rests.
  useEffect(() => {
    if (kind !== 'paste' || !text.trim()) return;
    const timer = window.setTimeout(() => {
      call<SourceOffer>('POST', `${base}/look`, { text }).then(
        (o) => {
          setProblem('');
          show(o, true);
        },
        (e: Error) => setProblem(e.message),
      );
    }, 250);
    return () => window.clearTimeout(timer);
  }, [base, kind, text]);

  const ask = async () => {
    asked.current?.abort();
    const own = new AbortController();
    asked.current = own;
    setBusy(true);
    setProblem('');
    setOffer(null);
    try {
      const found = await get<SourceOffer>(`${base}/lookup?q=${encodeURIComponent(words)}`, own.signal);
      if (!own.signal.aborted) show(found, false);
    } catch (e) {
      if (!own.signal.aborted) setProblem((e as Error).message);
    }
    if (!own.signal.aborted) setBusy(false);
  };
  const stop = () => {
    asked.current?.abort();
    setBusy(false);
  };
  const add = async () => {
    if (!offer) return;
    setBusy(true);
    try {
      const records = offer.records.filter((_, i) => chosen.has(i));
      await onAdd(records.map((r) => r.text).join('\n'), file || null, records.length);
      onClose();
    } catch (e) {
      setProblem((e as Error).message);
      setBusy(false);
    }
  };
  const toggle = (i: number) => {
    const next = new Set(chosen);
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
              if (!e.target.value.trim()) setOffer(null);
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
            void ask();
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
          {busy && !offer ? (
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
      {busy && !offer && (
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
          className="mt-3 max-h-24 shrink-0 space-y-1 overflow-y-auto rounded bg-[#fbf3df] px-3 py-2 text-[12.5px]"
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
            <Offered key={i} record={r} isChosen={chosen.has(i)} onToggle={() => toggle(i)} />
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
        <button className="button button-main" disabled={chosen.size === 0 || busy} onClick={() => void add()}>
          {chosen.size === 0 ? 'Add' : chosen.size === 1 ? 'Add this source' : `Add ${chosen.size} sources`}
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
          {record.twin && <span className="chip bg-[#ece3f0] text-plum">you have it: {record.twin}</span>}
          {record.missing.length > 0 && (
            <span className="chip bg-[#f7ecd2] text-[#7c5406]">no {record.missing.join(', ')}</span>
          )}
        </span>
      </label>
    </li>
  );
}
