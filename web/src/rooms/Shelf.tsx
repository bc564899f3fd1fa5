import { Plus } from 'lucide-react';
import { RadioGroup } from 'radix-ui';
import { useEffect, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { call, get, post, type Person, type ShelfEntry } from '../api/client';
import { AskText } from '../parts/Ask';
import { Brand, Initials } from '../parts/Brand';
import { openProof } from '../write/pdf';

/** The list of a person's manuscripts, each with its first page. */
export function Shelf({ person, onSignedOut }: { person: Person; onSignedOut: () => void }) {
  const [entries, setEntries] = useState<ShelfEntry[] | null>(null);
  const [problem, setProblem] = useState('');
  const [starting, setStarting] = useState(false);
  const [kind, setKind] = useState('article');
  const navigate = useNavigate();
  useEffect(() => {
    document.title = 'Your shelf · Young Folio';
    get<ShelfEntry[]>('/api/manuscripts').then(setEntries, (e: Error) => setProblem(e.message));
  }, []);
  const signOut = () => call('DELETE', '/api/session').then(onSignedOut);
  return (
    <div className="min-h-full">
      <header className="flex h-[52px] items-center justify-between bg-ink px-4 text-white">
        <Brand />
        <div className="flex items-center gap-3">
          {person.name} <Initials person={person} />
          <button className="rounded px-2 py-1 text-[#cdd3da] hover:text-white" onClick={signOut}>
            Sign out
          </button>
        </div>
      </header>
      <main className="mx-auto max-w-[1160px] px-4 pt-7 pb-16">
        <div className="flex items-end justify-between">
          <div>
            <h1 className="font-serif text-[36px] leading-tight">Your shelf</h1>
            <p className="text-ink-2" role="status">
              {entries ? describe(entries.length) : problem || 'Fetching your manuscripts …'}
            </p>
          </div>
          <button className="button button-main" onClick={() => setStarting(true)}>
            <Plus className="size-4" /> Start a manuscript
          </button>
        </div>
        <ul className="mt-7 grid grid-cols-[repeat(auto-fill,minmax(220px,1fr))] gap-10">
          {entries?.map((entry) => (
            <li key={entry.id}>
              <Link to={`/m/${entry.id}/write`} className="group block">
                <FirstPage entry={entry} />
                <h2 className="mt-3 font-serif text-[18px] leading-snug group-hover:text-rubric">{entry.title}</h2>
              </Link>
              <p className="mt-0.5 text-[12.5px] text-ink-2">{entry.description}</p>
              <p className="text-[12.5px] text-ink-2">
                {entry.pages != null
                  ? `${count(entry.pages, 'page')} · ${count(entry.words ?? 0, 'word')}`
                  : 'being typeset'}
              </p>
              <div className="mt-2 flex items-center gap-2">
                {entry.toFix ? <span className="chip bg-[#f8e3df] text-[#9a2b20]">{entry.toFix} to fix</span> : null}
                <span className="flex -space-x-1">
                  {entry.people.slice(0, 4).map((p) => (
                    <Initials key={p.id} person={p} />
                  ))}
                </span>
              </div>
            </li>
          ))}
        </ul>
        {entries?.length === 0 && (
          <p className="mt-10 text-ink-2">
            Nothing stands here yet. Start a manuscript, and its first proof is a second away.
          </p>
        )}
      </main>
      {starting && (
        <AskText
          title="Start a manuscript"
          label="Title"
          action="Start"
          onClose={() => setStarting(false)}
          onAnswer={async (title) => {
            const id = await post<number>('/api/manuscripts', { title, kind });
            navigate(`/m/${id}/write`);
          }}
        >
          <RadioGroup.Root value={kind} onValueChange={setKind} aria-label="Kind" className="flex gap-4">
            {[
              ['article', 'Article, in sections'],
              ['report', 'Thesis or report, in chapters'],
            ].map(([value, label]) => (
              <label key={value} className="flex items-center gap-2">
                <RadioGroup.Item value={value!} className="size-4 rounded-full border border-ink-3 bg-white">
                  <RadioGroup.Indicator className="m-auto block size-2 rounded-full bg-rubric" />
                </RadioGroup.Item>
                {label}
              </label>
            ))}
          </RadioGroup.Root>
        </AskText>
      )}
    </div>
  );
}

const count = (n: number, word: string) =>
  `${n.toLocaleString('en-GB').replace(',', '\u202f')} ${word}${n === 1 ? '' : 's'}`;
const describe = (n: number) => (n === 0 ? 'No manuscripts yet' : n === 1 ? 'One manuscript' : `${n} manuscripts`);

/** The first page of a manuscript's proof, drawn small. */
function FirstPage({ entry }: { entry: ShelfEntry }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    let gone = false;
    void openProof(`/api/manuscripts/${entry.id}/proof/first-page`)
      .then(async (document) => {
        const page = await document.getPage(1);
        const target = canvas.current;
        if (gone || !target) return;
        const ratio = window.devicePixelRatio;
        const viewport = page.getViewport({ scale: (150 / page.getViewport({ scale: 1 }).width) * ratio });
        target.width = viewport.width;
        target.height = viewport.height;
        await page.render({ canvas: target, viewport }).promise;
        await document.loadingTask.destroy();
      })
      .catch(() => undefined);
    return () => {
      gone = true;
    };
  }, [entry.id]);
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={`First page of ${entry.title}`}
      className="h-[212px] w-[150px] bg-white shadow-[2px_4px_10px_rgb(31_42_55/25%)]"
    />
  );
}
