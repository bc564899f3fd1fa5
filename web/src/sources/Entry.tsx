import { Tabs } from 'radix-ui';
import { useState } from 'react';
import { Link } from 'react-router';
import type { ChangedSources, SourceChange, SourceDetail, SourcesState } from '../api/client';
import { AskConsent, AskText } from '../ui/Ask';
import { fieldMendName } from '../ui/mendName';

/** A change of the pool: its kind, and what that kind needs. */
export type Wanted = Partial<SourceChange> & { kind: string };

interface Props {
  manuscript: number;
  detail: SourceDetail;
  types: SourcesState['types'];
  canWrite: boolean;
  onChange: (change: Wanted, says: string) => Promise<ChangedSources>;
  onMerge: (other: string) => void;
  onLookUp: () => void;
}

const tab =
  'rounded px-2 py-0.5 text-[12px] text-ink-2 data-[state=active]:bg-tint data-[state=active]:font-semibold data-[state=active]:text-ink';
const heading = 'text-[11px] font-semibold tracking-wide text-ink-3 uppercase';

/** One source: its fields or its text, what is to be said of it, how it prints, and where it is cited. */
export function Entry(props: Props) {
  const { detail, manuscript, canWrite, onChange } = props;
  const { row } = detail;
  const [problem, setProblem] = useState('');
  const [renaming, setRenaming] = useState(false);
  const [deleting, setDeleting] = useState(false);
  const attempt = (change: Wanted, says: string) => {
    setProblem('');
    onChange(change, says).catch((e: Error) => setProblem(e.message));
  };
  return (
    <Tabs.Root defaultValue="fields" className="flex min-h-0 flex-1 flex-col">
      <header className="flex shrink-0 items-center gap-2 px-4 pt-3">
        <h2 className="min-w-0 truncate font-mono text-[15px] font-semibold" title={row.key}>
          {row.key}
        </h2>
        {row.isThere && (
          <Link
            className="truncate text-[12px] text-slate underline decoration-slate/40 hover:decoration-slate"
            to={`/m/${manuscript}/write?file=${encodeURIComponent(row.file)}&line=${row.line}`}
          >
            {row.file}, line {row.line}
          </Link>
        )}
        {row.isThere && (
          <Tabs.List className="ml-auto flex shrink-0 gap-1" aria-label="How to see it">
            <Tabs.Trigger value="fields" className={tab}>
              Fields
            </Tabs.Trigger>
            <Tabs.Trigger value="text" className={tab}>
              .bib text
            </Tabs.Trigger>
          </Tabs.List>
        )}
      </header>
      <div className="min-h-0 flex-1 overflow-y-auto px-4 pb-4">
        {problem && (
          <p role="alert" className="mt-2 rounded bg-rubric-tint px-2.5 py-1.5 text-rubric-ink">
            {problem}
          </p>
        )}
        {row.isThere ? (
          <>
            <Notes
              {...props}
              onMend={(field, value) =>
                attempt(
                  { kind: 'fields', key: row.key, fields: { [field]: value } },
                  `${field} of ${row.key} was mended.`,
                )
              }
            />
            <Tabs.Content value="fields" className="pt-2.5" tabIndex={-1}>
              <Fields {...props} attempt={attempt} />
            </Tabs.Content>
            <Tabs.Content value="text" className="pt-2.5" tabIndex={-1}>
              <RawText key={detail.raw} {...props} attempt={attempt} />
            </Tabs.Content>
            <section className="mt-4 border-t border-rule pt-3">
              <h3 className={heading}>As it prints · {detail.styleName}</h3>
              <p className="mt-1.5 font-serif text-[15px] leading-snug" data-testid="printed">
                {detail.printed.map((r, i) =>
                  r.isSlanted ? <em key={i}>{r.text}</em> : <span key={i}>{r.text}</span>,
                )}
              </p>
              <p className="mt-1 text-[12.5px] text-ink-2">
                in the text: {detail.inBrackets} · {detail.inSentence}
              </p>
            </section>
          </>
        ) : (
          <p className="mt-3 text-ink-2">
            This key is cited, and no .bib file has a source for it; <b>??</b> is printed. Look the source up or paste
            it, or give the citations the key that was meant.
          </p>
        )}
        <section className="mt-4 border-t border-rule pt-3">
          <h3 className={heading}>Where it is cited</h3>
          {detail.uses.length === 0 && (
            <p className="mt-1.5 text-ink-2">
              Nowhere, so it isn’t printed. Cite it with <code className="font-mono">\cite{`{${row.key}}`}</code>.
            </p>
          )}
          <ul className="mt-1.5 space-y-1">
            {detail.uses.map((u) => (
              <li key={`${u.file} ${u.section}`} className="flex items-baseline gap-2">
                <span className="w-7 shrink-0 font-serif text-[15px] font-medium text-rubric-ink">{u.number}</span>
                <span className="min-w-0">
                  {u.section || 'before the first heading'}{' '}
                  <span className="text-[12px] text-ink-2">
                    {u.file.split('/').at(-1)}:
                    {u.lines.map((line, i) => (
                      <span key={line}>
                        {i > 0 && ', '}
                        <Link
                          className="text-slate underline decoration-slate/40 hover:decoration-slate"
                          to={`/m/${manuscript}/write?file=${encodeURIComponent(u.file)}&line=${line}`}
                        >
                          {line}
                        </Link>
                      </span>
                    ))}
                    {u.page && ` · p. ${u.page}`}
                  </span>
                </span>
              </li>
            ))}
          </ul>
        </section>
      </div>
      {canWrite && (
        <footer className="flex shrink-0 flex-wrap gap-2 border-t border-rule px-4 py-2.5">
          {row.twins.map((t) => (
            <button key={t} className="button" title={t} onClick={() => props.onMerge(t)}>
              Merge with its twin
            </button>
          ))}
          <button className="button" onClick={() => setRenaming(true)}>
            Rename key everywhere
          </button>
          {row.isThere ? (
            <button className="button ml-auto" onClick={() => setDeleting(true)}>
              Delete
            </button>
          ) : (
            <button className="button button-main ml-auto" onClick={props.onLookUp}>
              Look it up
            </button>
          )}
        </footer>
      )}
      {renaming && (
        <AskText
          title="Rename the key everywhere"
          label="New key"
          initial={row.key}
          action="Rename"
          onAnswer={async (key) => {
            await onChange(
              { kind: 'rename', key: row.key, other: key.trim() },
              `${row.key} is ${key.trim()} now, in every file.`,
            );
          }}
          onClose={() => setRenaming(false)}
        >
          <p className="text-[12.5px] text-ink-2">
            {row.uses === 0
              ? 'It is cited nowhere.'
              : `It is cited ${row.uses} ${row.uses === 1 ? 'time' : 'times'}; those citations follow.`}
          </p>
        </AskText>
      )}
      {deleting && (
        <AskConsent
          title={`Delete ${row.key}?`}
          text={
            row.uses === 0
              ? 'It is cited nowhere. You can undo this.'
              : `It is cited ${row.uses} ${row.uses === 1 ? 'time' : 'times'}, in ${[...new Set(detail.uses.map((u) => u.file))].join(', ')}. Those citations will print ?? until the source is back. You can undo this.`
          }
          action="Delete it"
          onYes={() => attempt({ kind: 'delete', key: row.key }, `${row.key} was deleted.`)}
          onClose={() => setDeleting(false)}
        />
      )}
    </Tabs.Root>
  );
}

function Notes({ detail, canWrite, onMend }: Props & { onMend: (field: string, value: string) => void }) {
  if (detail.notes.length === 0) return null;
  return (
    <ul className="mt-2.5 space-y-1.5">
      {detail.notes.map((n, i) => (
        <li key={i} className="flex items-start gap-2 rounded bg-note px-2.5 py-1.5 text-[12.5px]">
          <span>
            {n.message} <span className="text-ink-2">{n.advice}</span>
          </span>
          {canWrite && n.mend !== null && (
            <button
              className="ml-auto max-w-[50%] shrink-0 text-right font-medium text-slate underline wrap-anywhere"
              title={n.mend}
              onClick={() => onMend(n.field, n.mend!)}
            >
              {fieldMendName(n.mend)}
            </button>
          )}
        </li>
      ))}
    </ul>
  );
}

type Attempt = { attempt: (change: Wanted, says: string) => void };

function Fields({ detail, types, canWrite, attempt }: Props & Attempt) {
  const { row } = detail;
  const [adding, setAdding] = useState(false);
  const [all, setAll] = useState(false);
  // Empty fields that nothing needs wait behind a word, so that what prints is in view.
  const spare = detail.fields.filter((f) => f.value === '' && !f.isNeeded);
  return (
    <div className="space-y-1.5">
      <label className="grid grid-cols-[88px_1fr] items-center gap-2">
        <span className="text-ink-2">kind</span>
        <select
          className="field"
          value={types.some((t) => t.name === row.type) ? row.type : ''}
          disabled={!canWrite}
          onChange={(e) =>
            attempt(
              { kind: 'type', key: row.key, other: e.target.value },
              `${row.key} is of kind ${e.target.value} now.`,
            )
          }
        >
          {!types.some((t) => t.name === row.type) && <option value="">{row.type}</option>}
          {types.map((t) => (
            <option key={t.name} value={t.name}>
              {t.name} – {t.says}
            </option>
          ))}
        </select>
      </label>
      {(all ? detail.fields : detail.fields.filter((f) => !spare.includes(f))).map((f) => (
        <Field
          key={`${f.name} ${f.value}`}
          name={f.name}
          value={f.value}
          // A field that the type needs and that isn't there stands out, with a word that says so.
          lacks={f.isNeeded && f.value === '' && row.missing.some((m) => m.split(' or ').includes(f.name))}
          hint={f.inherited ? 'from the entry that it refers to' : ''}
          readOnly={!canWrite || f.inherited}
          kind={row.type}
          onSet={(value) =>
            attempt(
              { kind: 'fields', key: row.key, fields: { [f.name]: value } },
              `${f.name} of ${row.key} was changed.`,
            )
          }
        />
      ))}
      {canWrite && (
        <p className="flex gap-4 text-[12.5px]">
          {spare.length > 0 && (
            <button className="text-slate underline" onClick={() => setAll(!all)}>
              {all
                ? 'Fewer fields'
                : `More fields: ${spare
                    .slice(0, 3)
                    .map((f) => f.name)
                    .join(', ')} …`}
            </button>
          )}
          <button className="text-slate underline" onClick={() => setAdding(true)}>
            Another field
          </button>
        </p>
      )}
      {adding && (
        <AskText
          title="Another field"
          label="Its name, and its value behind ="
          action="Add"
          onAnswer={(text) => {
            const [name = '', ...value] = text.split('=');
            if (value.length === 0)
              return Promise.reject(new Error('Write the name, = and the value: keywords = walls'));
            attempt(
              { kind: 'fields', key: row.key, fields: { [name.trim()]: value.join('=').trim() } },
              `${name.trim()} was added.`,
            );
            return Promise.resolve();
          }}
          onClose={() => setAdding(false)}
        />
      )}
    </div>
  );
}

function Field(props: {
  name: string;
  value: string;
  lacks: boolean;
  hint: string;
  readOnly: boolean;
  kind: string;
  onSet: (value: string) => void;
}) {
  const [value, setValue] = useState(props.value);
  const article = /^[aeiou]/.test(props.kind) ? 'an' : 'a';
  return (
    <label className="grid grid-cols-[88px_1fr] items-center gap-2">
      <span className={props.lacks ? 'font-medium text-ochre-ink' : 'text-ink-2'}>{props.name}</span>
      <input
        className={`field ${props.lacks ? 'border-ochre bg-note placeholder:text-ochre-ink' : ''}`}
        value={value}
        placeholder={props.lacks ? `${article} ${props.kind} needs its ${props.name}` : props.hint}
        readOnly={props.readOnly}
        onChange={(e) => setValue(e.target.value)}
        onBlur={() => value.trim() !== props.value && props.onSet(value.trim())}
        onKeyDown={(e) => {
          if (e.key === 'Enter') e.currentTarget.blur();
          if (e.key === 'Escape') setValue(props.value);
        }}
      />
    </label>
  );
}

function RawText({ detail, canWrite, attempt }: Props & Attempt) {
  const [text, setText] = useState(detail.raw);
  return (
    <div>
      <textarea
        aria-label="The entry as .bib text"
        className="field min-h-[230px] font-mono text-[12.5px] leading-relaxed"
        value={text}
        readOnly={!canWrite}
        spellCheck={false}
        onChange={(e) => setText(e.target.value)}
      />
      {canWrite && (
        <div className="mt-1.5 flex justify-end gap-2">
          <button className="button" disabled={text === detail.raw} onClick={() => setText(detail.raw)}>
            Back to what it was
          </button>
          <button
            className="button button-main"
            disabled={text === detail.raw}
            onClick={() => attempt({ kind: 'text', key: detail.row.key, text }, `${detail.row.key} was changed.`)}
          >
            Save
          </button>
        </div>
      )}
    </div>
  );
}
