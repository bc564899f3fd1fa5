import { useQuery } from '@tanstack/react-query';
import type { Pin, SourcesWish } from '../api/client';
import { namesLeftQuery, obstaclesQuery, packageQuery } from '../api/queries';
import { PlaceLine } from './PlaceLine';
import { useRoom } from '../rooms/roomContext';
import { plural } from '../ui/words';

/** What goes out, and how the PDF is made. */
export interface Going {
  /** What the PDF is made for; null: what the rules say. */
  flavour: Flavour | null;
  /** Whether it says whose it is; null: what the rules say. */
  anonymous: boolean | null;
  sources: SourcesWish | null;
  since: number | null;
}

/** What a PDF may be made for: reading and printing, listening to it, keeping, keeping with its sources within it, listening and keeping. */
export type Flavour = '' | 'accessible' | 'archival' | 'archival-with-sources' | 'accessible-archival';

const flavours: readonly { value: Flavour; says: string; about: string }[] = [
  { value: '', says: 'for reading and printing', about: 'as in the proof, with outline and links' },
  {
    value: 'accessible',
    says: 'for those who listen to it, too (PDF/UA-1)',
    about: 'tells what is what: headings, lists, heads of tables, what pictures and formulas say, notes, languages',
  },
  {
    value: 'archival',
    says: 'for keeping (PDF/A-2)',
    about: 'looks the same in many years: fonts, colours and what it says of itself are within it',
  },
  {
    value: 'archival-with-sources',
    says: 'for keeping, with its sources (PDF/A-3)',
    about: 'looks the same in many years, and its sources go along inside of it, as a .zip',
  },
  {
    value: 'accessible-archival',
    says: 'for keeping and for those who listen (PDF/UA-1, PDF/A-3)',
    about: 'tells what is what, and looks the same in many years',
  },
];

/** What a PDF of a flavour says that it is. */
const promised: Record<Exclude<Flavour, ''>, string> = {
  accessible: 'accessible',
  archival: 'archival',
  'archival-with-sources': 'archival',
  'accessible-archival': 'accessible and archival',
};

const forms = [
  { form: 'html', ending: '.html', says: 'HTML with MathML' },
  { form: 'text', ending: '.txt', says: 'the words alone' },
  { form: 'figures', ending: '-figures.zip', says: 'the figures apart' },
  { form: 'words', ending: '-words.csv', says: 'words by section' },
] as const;

const wishes = [
  ['onlyUsed', 'only files that the pages need'],
  ['inOneFile', 'in one file'],
  ['withoutComments', 'without comments and typed notes'],
  ['onlyCited', 'of the sources only those that are cited'],
  ['readyList', 'the list of sources ready, without .bib files'],
] as const;

export const usualSources: SourcesWish = {
  onlyUsed: true,
  withoutComments: false,
  onlyCited: false,
  inOneFile: false,
  readyList: false,
  anonymous: false,
};

/** The files that go out: the PDF, the sources as they would compile elsewhere, changes marked since a pin. Each can be had at once. */
export function WhatGoesOut(props: {
  revision: number;
  name: string;
  pins: readonly Pin[];
  /** How the PDF is made, by choice or by the rules. */
  flavour: Flavour;
  anonymous: boolean;
  going: Going;
  onGoing: (going: Going) => void;
}) {
  const { revision, name, pins, flavour, anonymous, going, onGoing } = props;
  const { manuscript } = useRoom();
  const path = `/api/manuscripts/${manuscript.id}`;
  const { sources, since } = going;
  const packed = sources && { ...sources, anonymous };
  const { data: made, error, isFetching } = useQuery(packageQuery(manuscript.id, revision, packed));
  const { data: left } = useQuery(namesLeftQuery(manuscript.id, revision, anonymous));
  const { data: obstacles } = useQuery(obstaclesQuery(manuscript.id, revision, flavour));
  const query = new URLSearchParams(
    Object.entries({ ...(sources ?? usualSources), anonymous }).map(([k, v]) => [k, String(v)]),
  );
  const row = 'border-b border-rule px-4 py-2.5';
  return (
    <section
      aria-label="What goes out"
      className="shrink-0 overflow-hidden rounded-md bg-leaf shadow-[0_1px_6px_rgb(31_42_55/18%)]"
    >
      <h2 className={`${row} flex items-baseline justify-between gap-3 font-medium`}>
        What goes out <span className="min-w-0 truncate text-[12.5px] font-normal text-ink-2">{name}.pdf</span>
      </h2>
      <div className={row}>
        <div className="flex items-center gap-3">
          <div className="flex min-w-0 flex-1 items-center gap-2.5">
            <span className="font-medium whitespace-nowrap">The PDF</span>
            <select
              aria-label="What the PDF is made for"
              className="field w-auto min-w-0 flex-1 py-0.5"
              value={flavour}
              onChange={(e) => onGoing({ ...going, flavour: e.target.value as Flavour })}
            >
              {flavours.map((f) => (
                <option key={f.value} value={f.value}>
                  {f.says}
                </option>
              ))}
            </select>
          </div>
          <a
            className="button px-2.5 py-0.5"
            href={`${path}/hand-in/pdf?${flavour && `flavour=${flavour}&`}${query}&download=${encodeURIComponent(`${name}.pdf`)}`}
          >
            Get it
          </a>
        </div>
        <p className="mt-0.5 text-[12.5px] text-ink-2">{flavours.find((f) => f.value === flavour)!.about}</p>
        <label className="mt-1 flex items-baseline gap-2.5">
          <input
            type="checkbox"
            className="accent-moss"
            checked={anonymous}
            onChange={(e) => onGoing({ ...going, anonymous: e.target.checked })}
          />
          Without authors, their places and thanks: an anonymous copy
        </label>
        {anonymous && left && left.length > 0 && (
          <p role="status" className="text-[12.5px] text-ochre-ink">
            ▲ Still in the text: {left.map((n) => `${n.name} (${plural(n.times, 'time')})`).join(', ')}
          </p>
        )}
        {flavour && obstacles && obstacles.length > 0 && (
          <div role="status" className="mt-1 text-[12.5px] text-ochre-ink">
            <p>▲ It can’t say that it is {promised[flavour]}, because of this:</p>
            <ul className="ml-5 list-disc">
              {obstacles.map((o) => (
                <li key={`${o.says} ${o.file} ${o.offset}`}>
                  <PlaceLine place={o} wraps />
                </li>
              ))}
            </ul>
          </div>
        )}
      </div>
      <div className={row}>
        <div className="flex items-baseline gap-3">
          <label className="flex flex-1 items-baseline gap-2.5">
            <input
              type="checkbox"
              className="accent-moss"
              checked={sources !== null}
              onChange={(e) => onGoing({ ...going, sources: e.target.checked ? usualSources : null })}
            />
            <span className="font-medium">The sources as .zip that compiles elsewhere</span>
          </label>
          <a
            className="button px-2.5 py-0.5"
            href={`${path}/hand-in/sources/zip?${query}&download=${encodeURIComponent(`${name}-sources.zip`)}`}
          >
            Get them
          </a>
        </div>
        {sources && (
          <div className="mt-1 ml-6 text-[12.5px]">
            <div className="flex flex-wrap gap-x-4 gap-y-0.5">
              {wishes.map(([key, says]) => (
                <label key={key} className="flex items-baseline gap-1.5">
                  <input
                    type="checkbox"
                    className="accent-moss"
                    checked={sources[key]}
                    onChange={(e) => onGoing({ ...going, sources: { ...sources, [key]: e.target.checked } })}
                  />
                  {says}
                </label>
              ))}
            </div>
            <p role="status" className={`mt-1 ${made && !made.isSame ? 'text-ochre-ink' : 'text-ink-2'}`}>
              {error
                ? error.message
                : !made || isFetching
                  ? 'Packing, and compiling the package …'
                  : `${plural(made.files.length, 'file')}${made.leftBehind.length ? `, ${made.leftBehind.length} stay behind` : ''}; compiled again just now: ${plural(made.pages, 'page')}, ${made.isSame ? 'the same' : '▲ not quite the same'}`}
            </p>
            {made?.remarks.map((r) => (
              <p key={r} className="text-ochre-ink">
                ▲ {r}
              </p>
            ))}
          </div>
        )}
      </div>
      <div className={`${row} flex items-baseline gap-3`}>
        <label className="flex items-baseline gap-2.5">
          <input
            type="checkbox"
            className="accent-moss"
            disabled={pins.length === 0 || anonymous}
            checked={since !== null && !anonymous}
            onChange={(e) => onGoing({ ...going, since: e.target.checked ? (pins.at(-1)?.id ?? null) : null })}
          />
          <span className="font-medium">Changes marked since</span>
        </label>
        {pins.length === 0 ? (
          <span className="text-[12.5px] text-ink-2">no pin is set yet; the Chronicle sets them</span>
        ) : (
          <select
            aria-label="Since which pin"
            className="field w-auto min-w-0 flex-1 py-0.5"
            value={since ?? pins.at(-1)!.id}
            onChange={(e) => onGoing({ ...going, since: Number(e.target.value) })}
          >
            {pins.map((p) => (
              <option key={p.id} value={p.id}>
                {p.name}
              </option>
            ))}
          </select>
        )}
      </div>
      <p className="px-4 py-2.5">
        <span className="font-medium">In other forms:</span>{' '}
        {forms.map(({ form, ending, says }, i) => (
          <span key={form}>
            {i > 0 && ', '}
            <a
              className="text-slate underline"
              href={`${path}/hand-in/forms/${form}?download=${encodeURIComponent(name + ending)}`}
              download={name + ending}
            >
              {says}
            </a>
          </span>
        ))}
      </p>
    </section>
  );
}
