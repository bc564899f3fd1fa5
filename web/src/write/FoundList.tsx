import type { Found, OutlineLine } from '../api/client';
import { beginningOf, endOf, type ListedPlace } from './finding';
import { sectionAt } from './outline';

interface Props {
  found: Found;
  places: ListedPlace[];
  outline: OutlineLine[];
  /** The place that was gone to last, in all of them. */
  at: number;
  /** What would take their place; empty: nothing. */
  withWords: string;
  /** The keys of those that aren't to be replaced; null when nothing can be. */
  left: ReadonlySet<string> | null;
  onLeft: (left: ReadonlySet<string>) => void;
  onGo: (index: number) => void;
}

/** The places that were found, by file and section. */
export function FoundList({ found, places, outline, at, withWords, left, onLeft, onGo }: Props) {
  const choose = (key: string, isChosen: boolean) => {
    const next = new Set(left);
    if (isChosen) next.delete(key);
    else next.add(key);
    onLeft(next);
  };
  return found.files.map((of) => {
    const own = places.filter((p) => p.file.file === of.file);
    const sections = own.map((p) => sectionAt(outline, of.path, p.place.line));
    return (
      <section key={of.file} aria-label={of.path}>
        <h2 className="mt-1 truncate text-[12.5px] font-semibold">
          {of.path} <span className="font-normal text-ink-2">{of.places.length}</span>
        </h2>
        <ul>
          {own.map((p, i) => (
            <li key={p.key}>
              {sections[i]! >= 0 && sections[i] !== sections[i - 1] && (
                <p className="truncate pt-1 font-serif text-[12.5px] text-rubric-ink">{outline[sections[i]!]!.title}</p>
              )}
              <div className="flex items-start gap-1">
                {left && (
                  <input
                    type="checkbox"
                    className="mt-1 accent-slate"
                    aria-label={`Replace in line ${p.place.line}`}
                    checked={!left.has(p.key)}
                    onChange={(e) => choose(p.key, e.target.checked)}
                  />
                )}
                <button
                  className={`min-w-0 flex-1 rounded px-1 py-0.5 text-left text-[12.5px] leading-snug wrap-anywhere hover:bg-page/60 ${p.index === at ? 'bg-leaf' : ''}`}
                  aria-current={p.index === at}
                  title={`Line ${p.place.line}`}
                  onClick={() => onGo(p.index)}
                >
                  <span className="text-ink-2">{endOf(p.place.before, 24)}</span>
                  <mark className={`bg-mark text-ink ${withWords ? 'line-through' : ''}`}>{p.place.words}</mark>
                  {withWords && (
                    <ins className="ml-0.5 bg-moss-tint text-moss-ink no-underline">{p.place.replacement}</ins>
                  )}
                  <span className="text-ink-2">{beginningOf(p.place.after, 40)}</span>
                </button>
              </div>
            </li>
          ))}
        </ul>
      </section>
    );
  });
}
