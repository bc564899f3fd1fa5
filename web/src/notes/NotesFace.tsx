import { useMutation, useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { post, type Note, type OutlineLine, type TypedNote } from '../api/client';
import { typedNotesQuery } from '../api/queries';
import { useRoom } from '../rooms/roomContext';
import type { HeldWords } from '../write/source/heldPlaces';
import { bySections, brief, filters, isWanted, type NoteFilter } from './notes';
import { Decisions } from './Decisions';
import { NoteThread } from './NoteThread';
import { TypedThread } from './TypedThread';

/** A note that is being written, on words of a file. */
export interface NewNote extends HeldWords {
  file: number;
  /** One for each. */
  id: number;
}

/** The notes in the margin, under the headings where they stand. */
export function NotesFace(props: {
  notes: readonly Note[] | undefined;
  outline: readonly OutlineLine[];
  filter: NoteFilter;
  onFilter: (filter: NoteFilter) => void;
  chosen: number;
  mayNote: boolean;
  writing: NewNote | null;
  onChoose: (note: Note) => void;
  onShow: ((note: Note) => void) | null;
  onGoTyped: (note: TypedNote) => void;
  onWritten: (id: number | null) => void;
}) {
  const { notes, outline, filter, onFilter, chosen, mayNote, writing, onChoose, onShow, onGoTyped, onWritten } = props;
  const { person: me, manuscript, canWrite } = useRoom();
  const [picked, setPicked] = useState<ReadonlySet<number>>(new Set());
  const list = useRef<HTMLDivElement>(null);
  useEffect(() => {
    list.current?.querySelector(`[data-thread="${chosen}"]`)?.scrollIntoView({ block: 'nearest' });
  }, [chosen, notes]);
  const { data: typed = [] } = useQuery(typedNotesQuery(manuscript.id));
  // One that was gone to is shown whatever the filter says.
  const shown = notes?.filter((n) => isWanted(n, filter, me) || n.id === chosen) ?? [];
  return (
    <div ref={list} className="pb-3">
      <div role="group" aria-label="Which notes" className="flex flex-wrap gap-x-1 px-2 pb-1">
        {(Object.keys(filters) as NoteFilter[]).map((f) => (
          <button
            key={f}
            aria-pressed={filter === f}
            className={`rounded px-1.5 py-0.5 text-[12px] ${filter === f ? 'bg-leaf font-semibold' : 'text-ink-2'}`}
            onClick={() => onFilter(f)}
          >
            {filters[f]} {notes?.filter((n) => isWanted(n, f, me)).length ?? ''}
          </button>
        ))}
      </div>
      {notes && filter === 'suggested' && <Decisions notes={notes} picked={picked} />}
      {writing && <Writing key={writing.id} note={writing} onWritten={onWritten} />}
      {bySections<Note | TypedNote>(filter === 'open' ? [...shown, ...typed] : shown, outline).map(
        ({ section, notes: own }) => (
          <section key={section} aria-label={outline[section]?.title ?? 'Elsewhere'}>
            <h2 className="px-2.5 pt-2 pb-0.5 font-serif text-[13.5px] text-rubric-ink">
              {section < 0
                ? 'Before the first heading'
                : `${outline[section]?.number ?? ''} ${outline[section]?.title ?? ''}`}
            </h2>
            <ol>
              {own.map((n) =>
                'command' in n ? (
                  <TypedThread key={`${n.path} ${n.from}`} note={n} onGo={() => onGoTyped(n)} onTaken={onWritten} />
                ) : (
                  <NoteThread
                    key={n.id}
                    note={n}
                    isChosen={n.id === chosen}
                    mayNote={mayNote}
                    pick={
                      filter === 'suggested' && canWrite && n.proposal !== null && n.settledBy === null
                        ? {
                            is: picked.has(n.id),
                            set: (is) =>
                              setPicked((now) => new Set(is ? [...now, n.id] : [...now].filter((id) => id !== n.id))),
                          }
                        : null
                    }
                    onChoose={() => onChoose(n)}
                    onShow={onShow && (() => onShow(n))}
                  />
                ),
              )}
            </ol>
          </section>
        ),
      )}
      {notes && notes.length > 0 && <Out manuscript={manuscript.id} isOpen={filter !== 'settled'} />}
      {notes && shown.length === 0 && !writing && (filter !== 'open' || typed.length === 0) && (
        <p className="px-3 py-2 text-[12.5px] text-ink-2">
          {filter === 'suggested'
            ? 'Nothing is suggested. Choose words in the text, and write what should stand there.'
            : filter !== 'open'
              ? 'None of these.'
              : mayNote
                ? 'No open note. Choose words in the text, and write what you have to say of them.'
                : 'No open note.'}
        </p>
      )}
    </div>
  );
}

/** The notes for those who read them elsewhere: the open ones, or all of them. */
function Out({ manuscript, isOpen }: { manuscript: number; isOpen: boolean }) {
  const at = (as: string) => `/api/manuscripts/${manuscript}/notes/out.${as}${isOpen ? '?open=true' : ''}`;
  return (
    <p className="px-2.5 pt-2 text-[12px] text-ink-2">
      {isOpen ? 'The open ones' : 'All of them'} as{' '}
      <a className="text-slate underline" href={at('pdf')} target="_blank" rel="noopener">
        a PDF
      </a>{' '}
      or{' '}
      <a className="text-slate underline" href={at('csv')} download>
        a table
      </a>
    </p>
  );
}

function Writing({ note, onWritten }: { note: NewNote; onWritten: (id: number | null) => void }) {
  const { manuscript } = useRoom();
  const [text, setText] = useState('');
  const writing = useMutation({
    mutationFn: async () =>
      post<number>(`/api/manuscripts/${manuscript.id}/notes`, { file: note.file, ...(await note.stored()), text }),
    onSuccess: onWritten,
  });
  const send = () => text.trim() && writing.mutate();
  return (
    <form
      aria-label="A new note"
      className="mx-2 my-1 rounded bg-note p-2"
      onSubmit={(e) => {
        e.preventDefault();
        send();
      }}
    >
      <p className="border-l-2 border-ochre pl-1.5 text-[12px] text-ink-2 italic">{brief(note.words)}</p>
      <textarea
        aria-label="What you have to say"
        placeholder="What you have to say; @ and a name tells someone"
        rows={3}
        className="field mt-1 py-1 text-[13px]"
        value={text}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === 'Enter' && (e.ctrlKey || e.metaKey)) send();
          if (e.key === 'Escape') onWritten(null);
        }}
        autoFocus
      />
      {writing.error && (
        <p role="alert" className="text-[12.5px] text-rubric-ink">
          {writing.error.message}
        </p>
      )}
      <div className="mt-1 flex gap-1.5">
        <button className="button button-main px-2 py-0.5" disabled={!text.trim() || writing.isPending}>
          Write it
        </button>
        <button type="button" className="button px-2 py-0.5" onClick={() => onWritten(null)}>
          Cancel
        </button>
      </div>
    </form>
  );
}
