import { Check } from 'lucide-react';
import type { ReactNode } from 'react';
import type { News, NewsItem, Settled } from '../api/client';
import { Initials } from '../ui/Brand';
import { day } from '../ui/time';
import { plural } from '../ui/words';
import { brief } from '../notes/notes';

/** What others did while one was away. */
export function NewsStrip(props: {
  news: News;
  onOpen: (path: string) => void;
  onNote: (note: number) => void;
  onSeen: () => void;
}) {
  const { items, seenAt, settled } = props.news;
  return (
    <section
      aria-label="News"
      className="mx-2.5 mt-2.5 flex shrink-0 items-center gap-x-5 gap-y-1 rounded-md border border-rule bg-note px-3.5 py-1.5"
    >
      <h2 className="shrink-0 font-semibold">{seenAt ? `Since ${day(seenAt)}` : 'New here'}</h2>
      <ul className="flex min-w-0 flex-1 flex-wrap items-center gap-x-5 gap-y-0.5">
        {items.slice(0, 3).map((item, i) => (
          <li key={i} className="flex min-w-0 items-center gap-1.5">
            {item.person && <Initials person={item.person} small />}
            <span className="truncate">
              {item.script ?? item.person?.name.split(' ')[0]} {tell(item)}{' '}
              {item.file !== null &&
                (item.kinds.includes('delete') ? (
                  <b className="font-medium">{item.about}</b>
                ) : (
                  <button
                    className="font-medium text-slate underline decoration-slate/40 hover:decoration-slate"
                    onClick={() => props.onOpen(item.about)}
                  >
                    {item.about}
                  </button>
                ))}
            </span>
            {(item.added > 0 || item.removed > 0) && (
              <span className="shrink-0 text-[12px] text-ink-2">
                {[item.added && `+${item.added}`, item.removed && `−${item.removed}`].filter(Boolean).join(' ')}
              </span>
            )}
          </li>
        ))}
        {settled.length === 1 && (
          <li className="flex min-w-0 items-center gap-1.5">
            {settled[0]!.person && <Initials person={settled[0]!.person} small />}
            <span className="truncate">
              {settled[0]!.person?.name.split(' ')[0]} {decided(settled[0]!)}{' '}
              <NoteLink note={settled[0]!} onNote={props.onNote}>
                “{brief(settled[0]!.words, 40)}”
              </NoteLink>
            </span>
          </li>
        )}
        {settled.length > 1 && (
          <li className="truncate">
            <NoteLink note={settled.at(-1)!} onNote={props.onNote}>
              {plural(settled.length, 'note')} settled by others
            </NoteLink>
          </li>
        )}
        {items.length > 3 && <li className="shrink-0 text-ink-2">and {items.length - 3} more</li>}
      </ul>
      <button className="button shrink-0 px-2 py-0.5" onClick={props.onSeen}>
        <Check className="size-3.5" /> Seen
      </button>
    </section>
  );
}

function NoteLink(props: { note: Settled; onNote: (note: number) => void; children: ReactNode }) {
  return (
    <button
      className="font-medium text-slate underline decoration-slate/40 hover:decoration-slate"
      onClick={() => props.onNote(props.note.note)}
    >
      {props.children}
    </button>
  );
}

/** What became of a note, in words. */
const decided = ({ isTaken }: Pick<Settled, 'isTaken'>) =>
  isTaken === null ? 'settled the note on' : isTaken ? 'took the suggestion' : 'declined the suggestion';

const verbs: Record<string, string> = {
  delete: 'deleted',
  back: 'brought back',
  create: 'added',
  rename: 'renamed',
  upload: 'replaced',
  text: 'wrote in',
};

/** What was done, in words: “wrote in”, “added”. */
export function tell(item: NewsItem): string {
  if (item.file === null) return item.kinds.includes('people') ? `: ${item.about}` : `set ${item.about}`;
  return verbs[Object.keys(verbs).find((k) => item.kinds.includes(k)) ?? 'text']!;
}
