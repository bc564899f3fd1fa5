import { useMutation, useQuery } from '@tanstack/react-query';
import { RadioGroup } from 'radix-ui';
import { useEffect, useState, type FormEvent } from 'react';
import { useNavigate } from 'react-router';
import { post, type ShelfEntry } from '../api/client';
import { beginningQuery, firstPageQuery, templatePageQuery, templatesQuery } from '../api/queries';
import { DrawnPage } from '../proof/DrawnPage';
import { loadFrame } from '../rooms/ahead';
import { home } from '../rooms/rooms';
import { Panel } from '../ui/Panel';
import { useDeferredByTime } from '../ui/useDeferredByTime';
import { plural } from '../ui/words';

const languages = [
  ['british', 'British English'],
  ['american', 'American English'],
  ['ngerman', 'German'],
  ['french', 'French'],
  ['spanish', 'Spanish'],
  ['italian', 'Italian'],
  ['dutch', 'Dutch'],
  ['portuguese', 'Portuguese'],
  ['brazilian', 'Brazilian Portuguese'],
  ['catalan', 'Catalan'],
  ['czech', 'Czech'],
  ['danish', 'Danish'],
  ['greek', 'Greek'],
  ['finnish', 'Finnish'],
  ['croatian', 'Croatian'],
  ['magyar', 'Hungarian'],
  ['norsk', 'Norwegian (Bokmål)'],
  ['nynorsk', 'Norwegian (Nynorsk)'],
  ['polish', 'Polish'],
  ['romanian', 'Romanian'],
  ['russian', 'Russian'],
  ['slovak', 'Slovak'],
  ['slovene', 'Slovenian'],
  ['swedish', 'Swedish'],
  ['turkish', 'Turkish'],
  ['ukrainian', 'Ukrainian'],
] as const;
const papers = [
  ['a4', 'A4'],
  ['letter', 'Letter'],
  ['a5', 'A5'],
] as const;

/** How long one waits for another letter before the page is drawn anew, in milliseconds. */
const Pause = 250;

/** Starts a manuscript: as a template, as one of the shelf, or as a text from elsewhere; shows the page that will come. */
export function StartDialog(props: {
  shelf: ShelfEntry[];
  author: string;
  text?: string;
  from?: number;
  onClose: () => void;
}) {
  const { shelf, author, onClose } = props;
  const [chosen, setChosen] = useState(props.from ? `m${props.from}` : props.text !== undefined ? 'text' : 'article');
  const [text, setText] = useState(props.text ?? '');
  const [title, setTitle] = useState(
    props.from ? `${shelf.find((m) => m.id === props.from)?.title ?? ''} (copy)` : titleIn(props.text ?? ''),
  );
  const [authors, setAuthors] = useState(author);
  const [institute, setInstitute] = useState('');
  const [date, setDate] = useState('');
  const [language, setLanguage] = useState('');
  const [paper, setPaper] = useState('');
  const { data: templates } = useQuery(templatesQuery);
  const navigate = useNavigate();
  // What comes after Start is there by then; what fails is said where it is shown.
  useEffect(() => {
    loadFrame().catch(() => undefined);
    home.load().catch(() => undefined);
  }, []);
  const from = chosen.startsWith('m') ? Number(chosen.slice(1)) : null;
  const own = shelf.filter((m) => m.isTemplate);
  const isShipped = from === null && chosen !== 'text';
  // A template has places to fill; a manuscript that is copied keeps what it says but its title.
  const isTemplate = isShipped || own.some((m) => m.id === from);
  const wanted = {
    title,
    kind: isShipped ? chosen : null,
    authors: isTemplate ? authors : null,
    institute: isTemplate ? institute : null,
    date: isTemplate ? date : null,
    language: isTemplate ? language || (isShipped ? 'british' : null) : null,
    paper: isTemplate ? paper || (isShipped ? 'a4' : null) : null,
    from,
    text: chosen === 'text' ? text : null,
  };
  const asked = useDeferredByTime(JSON.stringify(wanted), Pause);
  const { data: begins, error: cannot } = useQuery(beginningQuery(chosen === 'text' && !text.trim() ? '' : asked));
  const starting = useMutation({
    mutationFn: () => post<number>('/api/manuscripts', wanted),
    onSuccess: (id) => void navigate(`/m/${id}/write`),
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    starting.mutate();
  };
  const problem = (starting.error ?? cannot)?.message;
  return (
    <Panel
      title="Start a manuscript"
      className="max-h-[92vh] w-[62rem] overflow-y-auto"
      busy={starting.isPending}
      onClose={onClose}
    >
      <form onSubmit={submit} className="mt-3 grid gap-5 min-[820px]:grid-cols-[minmax(0,1fr)_300px]">
        <div className="min-w-0">
          <RadioGroup.Root
            value={chosen}
            onValueChange={setChosen}
            aria-label="Begin with"
            className="grid grid-cols-[repeat(auto-fill,minmax(104px,1fr))] gap-2.5"
          >
            {templates?.map((t) => (
              <RadioGroup.Item
                key={t.name}
                value={t.name}
                title={t.says}
                className="flex flex-col items-center rounded border border-transparent p-1.5 text-center hover:bg-paper data-[state=checked]:border-rubric data-[state=checked]:bg-chosen"
              >
                <TemplatePage name={t.name} />
                <span className="mt-1 text-[12.5px] leading-tight">{t.title}</span>
              </RadioGroup.Item>
            ))}
            <RadioGroup.Item
              value="text"
              className="flex flex-col items-center justify-center rounded border border-dashed border-edge p-1.5 text-center text-[12.5px] hover:bg-paper data-[state=checked]:border-rubric data-[state=checked]:bg-chosen"
            >
              A text from elsewhere
              <span className="text-[11.5px] text-ink-2">paste a .tex</span>
            </RadioGroup.Item>
            {own.map((m) => (
              <RadioGroup.Item
                key={m.id}
                value={`m${m.id}`}
                title={`A template of the group: ${m.description}`}
                className="flex flex-col items-center rounded border border-transparent p-1.5 text-center hover:bg-paper data-[state=checked]:border-rubric data-[state=checked]:bg-chosen"
              >
                <OwnPage entry={m} />
                <span className="mt-1 text-[12.5px] leading-tight">{m.title}</span>
                <span className="text-[11.5px] text-ink-2">of the group</span>
              </RadioGroup.Item>
            ))}
          </RadioGroup.Root>
          {shelf.length > 0 && (
            <label className="mt-3 flex items-center gap-2 text-ink-2">
              or as another of yours:
              <select
                className="field w-auto min-w-0 flex-1 py-1 text-ink"
                value={from === null ? '' : chosen}
                onChange={(e) => e.target.value && setChosen(e.target.value)}
              >
                <option value="">choose …</option>
                {shelf.map((m) => (
                  <option key={m.id} value={`m${m.id}`}>
                    {m.title}
                  </option>
                ))}
              </select>
            </label>
          )}
          {chosen === 'text' && (
            <label className="mt-3 flex flex-col gap-1 text-ink-2">
              The text
              <textarea
                className="field h-28 font-mono text-[12px] text-ink"
                value={text}
                onChange={(e) => setText(e.target.value)}
                placeholder="\documentclass{article} …"
              />
            </label>
          )}
          <div className="mt-4 grid grid-cols-2 gap-3">
            <label className="col-span-2 flex flex-col gap-1 text-ink-2">
              Title
              <input className="field text-ink" value={title} onChange={(e) => setTitle(e.target.value)} autoFocus />
            </label>
            {isTemplate && (
              <>
                <label className="col-span-2 flex flex-col gap-1 text-ink-2">
                  Authors, parted by commas
                  <input className="field text-ink" value={authors} onChange={(e) => setAuthors(e.target.value)} />
                </label>
                <label className="flex flex-col gap-1 text-ink-2">
                  Institute
                  <input
                    className="field text-ink"
                    value={institute}
                    placeholder="below each name; empty for none"
                    onChange={(e) => setInstitute(e.target.value)}
                  />
                </label>
                <label className="flex flex-col gap-1 text-ink-2">
                  Date
                  <input
                    className="field text-ink"
                    value={date}
                    placeholder="as the template has it"
                    onChange={(e) => setDate(e.target.value)}
                  />
                </label>
                <label className="flex flex-col gap-1 text-ink-2">
                  Language
                  <select
                    className="field text-ink"
                    value={language || (isShipped ? 'british' : '')}
                    onChange={(e) => setLanguage(e.target.value)}
                  >
                    {!isShipped && <option value="">as the template has it</option>}
                    {languages.map(([value, words]) => (
                      <option key={value} value={value}>
                        {words}
                      </option>
                    ))}
                  </select>
                </label>
                <label className="flex flex-col gap-1 text-ink-2">
                  Paper
                  <select
                    className="field text-ink"
                    value={paper || (isShipped ? 'a4' : '')}
                    onChange={(e) => setPaper(e.target.value)}
                  >
                    {!isShipped && <option value="">as the template has it</option>}
                    {papers.map(([value, words]) => (
                      <option key={value} value={value}>
                        {words}
                      </option>
                    ))}
                  </select>
                </label>
              </>
            )}
          </div>
        </div>
        <div className="flex flex-col">
          <div className="flex min-h-[380px] flex-1 items-center justify-center rounded bg-proof p-4">
            {begins ? (
              <DrawnPage
                page={begins.page}
                width={250}
                label={`First page of what will come, of ${plural(begins.pages, 'page')}`}
              />
            ) : (
              <span className="text-ink-2">
                {chosen === 'text' && !text.trim() ? 'Paste a text, and its first page shows here.' : 'Typesetting …'}
              </span>
            )}
          </div>
          <p className="mt-1.5 text-[12.5px] text-ink-2">
            {isShipped
              ? templates?.find((t) => t.name === chosen)?.says
              : isTemplate
                ? 'A template of the group: all its files, with what you fill in here.'
                : from !== null
                  ? 'All its files, without its history and its people.'
                  : 'It comes in as it is.'}
          </p>
          {problem && (
            <p role="alert" className="mt-1 text-rubric">
              {problem}
            </p>
          )}
          <div className="mt-3 flex justify-end gap-2">
            <button type="button" className="button" onClick={onClose}>
              Cancel
            </button>
            <button
              type="submit"
              className="button button-main"
              disabled={starting.isPending || !title.trim() || (chosen === 'text' && !text.trim())}
            >
              Start
            </button>
          </div>
        </div>
      </form>
    </Panel>
  );
}

/** The title that a text gives itself; empty where it gives none. */
export const titleIn = (text: string) => /\\title\s*(?:\[[^\]]*\])?\{([^{}\\]*)\}/.exec(text)?.[1]?.trim() ?? '';

function OwnPage({ entry }: { entry: ShelfEntry }) {
  const { data: page } = useQuery(firstPageQuery(entry.id, entry.firstPage));
  return page ? (
    <DrawnPage page={page} width={84} manuscript={entry.id} />
  ) : (
    <span className="block h-[119px] w-[84px] bg-sheet" />
  );
}

function TemplatePage({ name }: { name: string }) {
  const { data } = useQuery(templatePageQuery(name));
  return data ? <DrawnPage page={data.page} width={84} /> : <span className="block h-[119px] w-[84px] bg-sheet" />;
}
