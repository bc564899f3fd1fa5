import { Check } from 'lucide-react';
import type { News, NewsItem } from '../api/client';
import { Initials } from '../ui/Brand';
import { day } from '../ui/time';

/** What others did while one was away. */
export function NewsStrip(props: { news: News; onOpen: (path: string) => void; onSeen: () => void }) {
  const { items, seenAt } = props.news;
  return (
    <section
      aria-label="News"
      className="mx-2.5 mt-2.5 flex shrink-0 items-center gap-x-5 gap-y-1 rounded-md border border-rule bg-note px-3.5 py-1.5"
    >
      <h2 className="shrink-0 font-semibold">{seenAt ? `Since ${day(seenAt)}` : 'New here'}</h2>
      <ul className="flex min-w-0 flex-1 items-center gap-5 overflow-hidden">
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
        {items.length > 3 && <li className="shrink-0 text-ink-2">and {items.length - 3} more</li>}
      </ul>
      <button className="button shrink-0 px-2 py-0.5" onClick={props.onSeen}>
        <Check className="size-3.5" /> Seen
      </button>
    </section>
  );
}

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
