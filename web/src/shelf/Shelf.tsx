import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { MailOpen, Plus, Undo2, Upload } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import { Account } from '../account/Account';
import { LooksButton } from '../account/LooksButton';
import { call, post, type Person, type Session, type ShelfEntry } from '../api/client';
import { shelfQuery } from '../api/queries';
import { Brand, Initials } from '../ui/Brand';
import { DropZone } from '../ui/DropZone';
import { moment } from '../ui/time';
import { plural } from '../ui/words';
import { tell } from '../write/NewsStrip';
import { useKept } from '../ui/useKept';
import { Book } from './Book';
import { ImportZip } from './ImportZip';
import { folderIn, isHistory, zipped, zippedAlone } from './folder';
import { StartDialog } from './StartDialog';
import { arranged, dateOf, daysUntil, dueIn, Near, type Order } from './arranged';

/** So many manuscripts are worth looking through. */
const Many = 4;

/** The list of a person's manuscripts, each with its first page, and what is new in them. */
export default function Shelf(props: { session: Session; person: Person; onChanged: () => Promise<void> }) {
  const { session, person, onChanged } = props;
  const { data: known, error, failureReason } = useQuery(shelfQuery);
  const entries = known?.entries;
  const [starting, setStarting] = useState<{ text?: string; from?: number } | null>(null);
  const [words, setWords] = useState('');
  const [mark, setMark] = useState('');
  const [order, setOrder] = useKept<Order>('shelf order', 'started');
  const [importing, setImporting] = useState<File | null>(null);
  const [notZip, setNotZip] = useState('');
  const [account, setAccount] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const client = useQueryClient();
  useEffect(() => {
    document.title = 'Your shelf · Young Folio';
  }, []);
  const acting = useMutation({
    mutationFn: (what: () => Promise<unknown>) => what(),
    onSuccess: () => client.invalidateQueries({ queryKey: shelfQuery.queryKey }),
  });
  const act = (what: () => Promise<unknown>) => acting.mutate(what);
  const signingOut = useMutation({ mutationFn: () => call('DELETE', '/api/session'), onSuccess: onChanged });
  const problem =
    (acting.error ?? signingOut.error ?? error)?.message ??
    (failureReason && !entries
      ? 'The server can’t be reached just now. It is asked again until it answers; you need do nothing.'
      : '');
  const all = entries?.filter((e) => !e.keptUntil) ?? [];
  const shelf = all.filter((e) => !e.isArchived);
  const archive = all.filter((e) => e.isArchived);
  const today = dateOf(new Date());
  const due = shelf
    .filter((e) => e.deadline && daysUntil(e.deadline, today) <= Near)
    .sort((a, b) => a.deadline!.localeCompare(b.deadline!));
  const waiting = waitingIn(shelf);
  const marks = [...new Set(shelf.map((e) => e.mark).filter(Boolean))].sort();
  const shown = arranged(shelf, words, order).filter((e) => !mark || e.mark === mark);
  const away = entries?.filter((e) => e.keptUntil) ?? [];
  const lately = shelf
    .flatMap((entry) => entry.news.items.map((item) => ({ entry, item })))
    .sort((a, b) => b.item.until.localeCompare(a.item.until))
    .slice(0, 6);
  return (
    <div className="min-h-full">
      <header className="flex h-[52px] items-center justify-between bg-top px-4 text-white">
        <Brand />
        <div className="flex items-center gap-1">
          <Link to="/outbox" className="flex items-center gap-1.5 rounded px-2 py-1 text-ribbon hover:text-white">
            <MailOpen className="size-4" /> Outbox
          </Link>
          <LooksButton look="text-ribbon hover:text-white" />
          <button
            className="flex items-center gap-2 rounded px-2 py-1 hover:bg-white/10"
            title="Your account"
            onClick={() => setAccount(true)}
          >
            {person.name} <Initials person={person} />
          </button>
          <button className="rounded px-2 py-1 text-ribbon hover:text-white" onClick={() => signingOut.mutate()}>
            Sign out
          </button>
        </div>
      </header>
      <main className="mx-auto max-w-[1160px] px-4 pt-7 pb-16">
        <div className="flex flex-wrap items-end justify-between gap-3">
          <div>
            <h1 className="font-serif text-[36px] leading-tight">Your shelf</h1>
            <p className={problem ? 'text-rubric' : 'text-ink-2'} role={problem ? 'alert' : undefined}>
              {notZip
                ? `${notZip} isn’t a .zip, a .tex or a folder. Open a manuscript to put single files into it.`
                : problem || (entries ? describe(shelf) + since(known?.asOf) : 'Fetching your manuscripts …')}
            </p>
          </div>
          <div className="flex gap-2">
            <button className="button" onClick={() => file.current?.click()}>
              <Upload className="size-4" aria-hidden /> Import a .zip
            </button>
            <input
              ref={file}
              type="file"
              accept=".zip,.fast-export,application/zip"
              hidden
              data-testid="zip"
              onChange={(e) => {
                const [chosen] = e.target.files ?? [];
                if (chosen && isHistory(chosen)) act(async () => setImporting(await zippedAlone(chosen)));
                else setImporting(chosen ?? null);
                e.target.value = '';
              }}
            />
            <button className="button button-main" onClick={() => setStarting({})}>
              <Plus className="size-4" /> Start a manuscript
            </button>
          </div>
        </div>
        {due.length + waiting.length > 0 && (
          <section aria-label="Waits for you" className="mt-5 rounded bg-note px-4 py-2.5">
            <h2 className="text-[11px] tracking-wide text-ink-2 uppercase">Waits for you</h2>
            <ul className="mt-1 space-y-0.5">
              {due.map((e) => (
                <li key={e.id}>
                  <Link
                    to={`/m/${e.id}/write`}
                    className="text-slate underline decoration-slate/40 hover:decoration-slate"
                  >
                    {e.title}
                  </Link>{' '}
                  {dueIn(daysUntil(e.deadline!, today))}
                  {e.checks?.toMend
                    ? `, with ${plural(e.checks.toMend, 'check')} to mend`
                    : e.toFix
                      ? `, with ${e.toFix} to fix`
                      : ''}
                  .
                </li>
              ))}
              {waiting.map(({ id, to, what, where }) => (
                <li key={`${id} ${to}`}>
                  <Link
                    to={`/m/${id}/write?${to}`}
                    className="text-slate underline decoration-slate/40 hover:decoration-slate"
                  >
                    {what}
                  </Link>{' '}
                  {where}.
                </li>
              ))}
            </ul>
          </section>
        )}
        {shelf.length >= Many && (
          <div className="mt-5 flex flex-wrap items-center gap-3">
            <input
              aria-label="Find a manuscript"
              placeholder="Title, kind, or a person"
              className="field w-[240px]"
              value={words}
              onChange={(e) => setWords(e.target.value)}
            />
            <label className="flex items-center gap-2 text-ink-2">
              in order of
              <select
                className="field w-auto py-1 text-ink"
                value={order}
                onChange={(e) => setOrder(e.target.value as Order)}
              >
                <option value="started">when they were started</option>
                <option value="title">title</option>
                <option value="lately">what is new</option>
                <option value="pages">length</option>
                <option value="due">deadlines</option>
              </select>
            </label>
            {marks.length > 0 && (
              <div role="group" aria-label="Marks" className="flex flex-wrap gap-1.5">
                {marks.map((m) => (
                  <button
                    key={m}
                    aria-pressed={m === mark}
                    className={`chip bg-plum-tint text-plum ${m === mark ? 'ring-2 ring-ink/50' : ''}`}
                    onClick={() => setMark(m === mark ? '' : m)}
                  >
                    {m}
                  </button>
                ))}
              </div>
            )}
            {shown.length === 0 && <p className="text-ink-2">None fits. Take a word away.</p>}
          </div>
        )}
        <ul aria-label="Manuscripts" className="mt-7 grid grid-cols-[repeat(auto-fill,minmax(220px,1fr))] gap-10">
          {shown.map((entry) => (
            <Book
              key={entry.id}
              entry={entry}
              act={act}
              onCopy={() => setStarting({ from: entry.id })}
              canOpen={known?.openable?.includes(entry.id) ?? true}
            />
          ))}
        </ul>
        {entries && shelf.length === 0 && (
          <p className="mt-10 text-ink-2">
            Nothing stands here yet. Start a manuscript, and its first proof is a second away.
          </p>
        )}
        {lately.length > 0 && (
          <section aria-label="Lately" className="mt-9 border-t border-rule pt-4">
            <h2 className="text-[11px] tracking-wide text-ink-2 uppercase">Lately, in the group</h2>
            <ul className="mt-2 space-y-1.5">
              {lately.map(({ entry, item }, i) => (
                <li key={i} className="flex items-center gap-2">
                  {item.person && <Initials person={item.person} small />}
                  <span>
                    <b className="font-medium">{item.script ?? item.person?.name}</b> {tell(item)}{' '}
                    {item.file !== null && (
                      <Link
                        to={`/m/${entry.id}/write?file=${encodeURIComponent(item.about)}`}
                        className="text-slate underline decoration-slate/40 hover:decoration-slate"
                      >
                        {item.about}
                      </Link>
                    )}{' '}
                    <span className="text-ink-2">
                      in {entry.title}, {moment(item.until)}
                    </span>
                  </span>
                </li>
              ))}
            </ul>
          </section>
        )}
        {archive.length > 0 && (
          <section aria-label="Archive" className="mt-9 border-t border-rule pt-4">
            <h2 className="text-[11px] tracking-wide text-ink-2 uppercase">Your archive</h2>
            <ul className="mt-2 space-y-1.5">
              {archive.map((entry) => (
                <li key={entry.id} className="flex items-center gap-3">
                  <Link to={`/m/${entry.id}/write`} className="font-serif text-[16px] hover:text-rubric">
                    {entry.title}
                  </Link>
                  <span className="text-ink-2">{entry.description}</span>
                  <button
                    className="button px-2 py-0.5"
                    onClick={() => act(() => post(`/api/manuscripts/${entry.id}/archive`, { isArchived: false }))}
                  >
                    <Undo2 className="size-3.5" aria-hidden /> Back to the shelf
                  </button>
                </li>
              ))}
            </ul>
          </section>
        )}
        {away.length > 0 && (
          <section aria-label="Deleted" className="mt-9 border-t border-rule pt-4">
            <h2 className="text-[11px] tracking-wide text-ink-2 uppercase">Deleted</h2>
            <ul className="mt-2 space-y-1.5">
              {away.map((entry) => (
                <li key={entry.id} className="flex items-center gap-3">
                  <span className="font-serif text-[16px]">{entry.title}</span>
                  <span className="text-ink-2">kept until {moment(entry.keptUntil!)}</span>
                  <button
                    className="button px-2 py-0.5"
                    onClick={() => act(() => post(`/api/manuscripts/${entry.id}/back`, {}))}
                  >
                    <Undo2 className="size-3.5" /> Bring back
                  </button>
                </li>
              ))}
            </ul>
          </section>
        )}
      </main>
      {account && <Account session={session} onChanged={onChanged} onClose={() => setAccount(false)} />}
      <DropZone
        says="Let go to import it as a manuscript"
        onDrop={(files, event) => {
          const folder = folderIn(event.dataTransfer);
          if (folder) {
            setNotZip('');
            act(async () => setImporting(await zipped(folder)));
            return;
          }
          const zip = files.find((f) => /\.zip$/i.test(f.name));
          const history = files.find(isHistory);
          const tex = files.find((f) => /\.(tex|ltx)$/i.test(f.name));
          setNotZip(zip || history || tex ? '' : (files[0]?.name ?? ''));
          if (zip) setImporting(zip);
          else if (history) act(async () => setImporting(await zippedAlone(history)));
          else if (tex) void tex.text().then((text) => setStarting({ text }));
        }}
      />
      {importing && (
        <ImportZip
          file={importing}
          onClose={() => {
            setImporting(null);
            act(() => Promise.resolve());
          }}
        />
      )}
      {starting && (
        <StartDialog
          shelf={shelf}
          author={person.name}
          text={starting.text}
          from={starting.from}
          onClose={() => setStarting(null)}
        />
      )}
    </div>
  );
}

function describe(shelf: ShelfEntry[]): string {
  const all =
    shelf.length === 0 ? 'No manuscripts yet' : shelf.length === 1 ? 'One manuscript' : `${shelf.length} manuscripts`;
  const fresh = shelf.filter((e) => e.news.items.length > 0 || e.news.settled.length > 0).length;
  return fresh === 0 ? all : `${all}, ${fresh === 1 ? 'one' : fresh} with news since you were last here`;
}

const since = (asOf: string | undefined) =>
  asOf ? `. The server can’t be reached; this is as of ${moment(asOf)}` : '';

/** What waits for one in manuscripts, and where it is read. */
const waitingIn = (shelf: readonly ShelfEntry[]) => [
  ...shelf
    .filter((e) => e.notesToMe > 0)
    .map((e) => ({
      id: e.id,
      to: 'notes=me',
      what: `${plural(e.notesToMe, 'open note')} to you`,
      where: `in ${e.title}`,
    })),
  ...shelf
    .filter((e) => e.news.settled.length > 0)
    .map((e) => ({
      id: e.id,
      to: 'notes=settled',
      what: `${plural(e.news.settled.length, 'note')} settled by others`,
      where: `in ${e.title}`,
    })),
  ...shelf
    .filter((e) => e.talk > 0)
    .map((e) => ({
      id: e.id,
      to: 'talk=1',
      what: `${plural(e.talk, 'message')} you haven’t read`,
      where: `in the talk of ${e.title}`,
    })),
  ...shelf
    .filter((e) => e.suggestions > 0)
    .map((e) => ({
      id: e.id,
      to: 'notes=suggested',
      what: `${plural(e.suggestions, 'suggestion')} to take or decline`,
      where: `in ${e.title}`,
    })),
];
