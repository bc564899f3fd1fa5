import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { call, post, type ShelfEntry } from '../api/client';
import { firstPageQuery } from '../api/queries';
import { DrawnPage } from '../proof/DrawnPage';
import { AskConsent, AskText } from '../ui/Ask';
import { Initials } from '../ui/Brand';
import { MenuDownload, MenuItem, MoreMenu } from '../ui/Menu';
import { plural } from '../ui/words';
import { dateOf, daysUntil, dueIn, Near } from './arranged';

/** One manuscript: its first page, who is in it, what is new, and what can be done with it. */
export function Book(props: {
  entry: ShelfEntry;
  act: (what: () => Promise<unknown>) => void;
  onCopy: () => void;
  canOpen: boolean;
}) {
  const { entry, act, onCopy, canOpen } = props;
  const [asking, setAsking] = useState<'title' | 'mark' | 'deadline' | 'delete' | 'leave' | null>(null);
  const path = `/api/manuscripts/${entry.id}`;
  const canWrite = entry.role === 'owner' || entry.role === 'author';
  return (
    <li>
      {canOpen ? (
        <Link to={`/m/${entry.id}/write`} className="group block">
          <FirstPage entry={entry} />
          <h2 className="mt-3 font-serif text-[18px] leading-snug group-hover:text-rubric">{entry.title}</h2>
        </Link>
      ) : (
        <div className="opacity-60">
          <FirstPage entry={entry} />
          <h2 className="mt-3 font-serif text-[18px] leading-snug">{entry.title}</h2>
        </div>
      )}
      {!canOpen && <p className="text-[12.5px] text-ochre-ink">Opens when the connection is back</p>}
      <p className="mt-0.5 text-[12.5px] text-ink-2">{entry.description}</p>
      <p className="text-[12.5px] text-ink-2">
        {entry.pages != null ? `${plural(entry.pages, 'page')} · ${plural(entry.words ?? 0, 'word')}` : 'being typeset'}
      </p>
      {entry.deadline && (
        <p className="mt-2 flex flex-wrap items-center gap-1.5">
          <Due deadline={entry.deadline} />
          {entry.checks && <Checks id={entry.id} checks={entry.checks} />}
        </p>
      )}
      <div className="mt-2 flex flex-wrap items-center gap-1.5">
        <span className="flex -space-x-1">
          {entry.people.slice(0, 4).map((p) => (
            <Initials key={p.id} person={p} small />
          ))}
        </span>
        {entry.here.map((p) => (
          <span key={p.id} className="chip bg-moss-tint text-moss-ink">
            {p.name.split(' ')[0]} is here
          </span>
        ))}
        {entry.isTemplate && <span className="chip bg-tint text-tint-ink">template</span>}
        {entry.mark && <span className="chip bg-plum-tint text-plum">{entry.mark}</span>}
        {entry.news.items.length + entry.news.settled.length > 0 && (
          <span className="chip bg-ochre-tint text-ochre-ink">news</span>
        )}
        {entry.toFix ? <span className="chip bg-rubric-tint text-rubric-ink">{entry.toFix} to fix</span> : null}
        <MoreMenu of={entry.title} className="ml-auto">
          <MenuDownload href={`${path}/zip`}>Download as .zip</MenuDownload>
          <MenuItem onSelect={onCopy}>Duplicate …</MenuItem>
          {canWrite && <MenuItem onSelect={() => setAsking('title')}>Rename …</MenuItem>}
          {canWrite && <MenuItem onSelect={() => setAsking('mark')}>Mark …</MenuItem>}
          {canWrite && <MenuItem onSelect={() => setAsking('deadline')}>Deadline …</MenuItem>}
          {canWrite && (
            <MenuItem
              onSelect={() =>
                act(() => call('PATCH', path, { title: null, mainFile: null, isTemplate: !entry.isTemplate }))
              }
            >
              {entry.isTemplate ? 'No longer a template' : 'Make it a template'}
            </MenuItem>
          )}
          <MenuItem onSelect={() => act(() => post(`${path}/archive`, { isArchived: true }))}>
            Into your archive
          </MenuItem>
          {entry.role === 'owner' ? (
            <MenuItem isGrave onSelect={() => setAsking('delete')}>
              Delete …
            </MenuItem>
          ) : (
            <MenuItem isGrave onSelect={() => setAsking('leave')}>
              Leave …
            </MenuItem>
          )}
        </MoreMenu>
      </div>
      {asking === 'title' && (
        <AskText
          title="Rename"
          label="Title on the shelf; the one in print stands in the main file"
          initial={entry.title}
          action="Save"
          onClose={() => setAsking(null)}
          onAnswer={async (title) => {
            await call('PATCH', path, { title, mainFile: null });
            act(() => Promise.resolve());
          }}
        />
      )}
      {asking === 'mark' && (
        <AskText
          title="Mark"
          label="A word of your group’s own: a project, a year. Empty for none"
          initial={entry.mark}
          action="Mark it"
          mayBeEmpty
          onClose={() => setAsking(null)}
          onAnswer={async (mark) => {
            await call('PATCH', path, { title: null, mainFile: null, mark });
            act(() => Promise.resolve());
          }}
        />
      )}
      {asking === 'deadline' && (
        <AskText
          title="Deadline"
          label="The day on which it is due. Empty for none"
          type="date"
          initial={entry.deadline ?? ''}
          action="Set it"
          mayBeEmpty
          onClose={() => setAsking(null)}
          onAnswer={async (deadline) => {
            await call('PATCH', path, { title: null, mainFile: null, deadline });
            act(() => Promise.resolve());
          }}
        />
      )}
      {asking === 'delete' && (
        <AskConsent
          title={`Delete “${entry.title}”?`}
          text={`It goes from the shelves of ${entry.people.length === 1 ? 'its one person' : `all ${entry.people.length} people`}, with its ${plural(entry.revision, 'revision')}. You can bring it back for 30 days.`}
          action="Delete it"
          onClose={() => setAsking(null)}
          onYes={() => act(() => call('DELETE', path))}
        />
      )}
      {asking === 'leave' && (
        <AskConsent
          title={`Leave “${entry.title}”?`}
          text="What you wrote stays. To come back you need a new invitation."
          action="Leave it"
          onClose={() => setAsking(null)}
          onYes={() => act(() => post(`${path}/leave`, {}))}
        />
      )}
    </li>
  );
}

function Due({ deadline }: { deadline: string }) {
  const days = daysUntil(deadline, dateOf(new Date()));
  const look =
    days < 0 ? 'bg-rubric-tint text-rubric-ink' : days <= Near ? 'bg-ochre-tint text-ochre-ink' : 'bg-leaf text-ink-2';
  return (
    <span className={`chip ${look}`} title={deadline}>
      {dueIn(days)}
    </span>
  );
}

/** How far the checks of a manuscript are that is due; leads to the room that lists them. */
function Checks({ id, checks }: { id: number; checks: NonNullable<ShelfEntry['checks']> }) {
  const { hold, toLook, toMend } = checks;
  const all = hold + toLook + toMend;
  return (
    <Link
      to={`/m/${id}/hand-in`}
      className={`chip ${toMend > 0 ? 'bg-ochre-tint text-ochre-ink' : 'bg-moss-tint text-moss-ink'} hover:underline`}
      title={toMend + toLook > 0 ? `${toMend} to mend, ${toLook} to look at` : 'Ready to hand in'}
    >
      {toMend + toLook > 0 ? `${hold} of ${all} checks hold` : `all ${all} checks hold`}
    </Link>
  );
}

/** So wide is a first page on the shelf, in pixels. */
const PageWidth = 150;

/** The first page of a manuscript's proof; a blank one until it is there. */
function FirstPage({ entry }: { entry: ShelfEntry }) {
  const { data: page } = useQuery(firstPageQuery(entry.id, entry.firstPage));
  return page ? (
    <DrawnPage page={page} width={PageWidth} manuscript={entry.id} label={`First page of ${entry.title}`} />
  ) : (
    <span className="block h-[212px] w-[150px] bg-sheet" />
  );
}
