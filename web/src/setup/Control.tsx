import { Lock } from 'lucide-react';
import { ToggleGroup } from 'radix-ui';
import { useId, useState, type ReactNode } from 'react';
import type { Setting } from '../api/client';
import { AuthorRows } from './AuthorRows';

/** Words that are still short enough to stand side by side. */
const Short = 44;

interface Props {
  setting: Setting;
  canWrite: boolean;
  isBusy: boolean;
  isLit: boolean;
  /** What holds now, of a length that nothing sets. */
  now: string | undefined;
  onSet: (value: string | null) => void;
  onLight: (id: string | null) => void;
  onGo: () => void;
  /** What helps to choose. */
  children?: ReactNode;
}

/** One setting: its name, what it does, and what it is. */
export function Control(props: Props) {
  const { setting, canWrite, isLit, onLight, onGo } = props;
  const says = useId();
  const isFree = canWrite && setting.canChange;
  const place = setting.places.at(-1);
  const held = place && place.held !== 'no' ? reasons[place.held] : null;
  return (
    <div
      data-setting={setting.id}
      role="group"
      aria-label={setting.title}
      aria-describedby={says}
      data-lit={isLit || undefined}
      className={`grid items-start gap-x-3 gap-y-0.5 rounded px-2 py-1.5 hover:bg-paper/60 data-lit:bg-chosen ${
        setting.form === 'length' ? '' : 'col-span-2 min-[500px]:grid-cols-[132px_minmax(0,1fr)]'
      }`}
      onMouseEnter={() => onLight(setting.id)}
      onMouseLeave={() => onLight(null)}
      onFocus={() => onLight(setting.id)}
    >
      <span className="pt-1 text-ink-2">{setting.title}</span>
      <div className="min-w-0">
        {isFree ? <Value {...props} says={says} /> : <span className="inline-block pt-1">{shown(setting)}</span>}
        <p id={says} className="mt-0.5 text-[12px] leading-snug text-ink-2">
          {setting.does}
          {held && place && (
            <>
              {' '}
              <button className="inline-flex items-baseline gap-1 text-slate underline" onClick={onGo}>
                <Lock className="size-3 self-center" aria-hidden /> {`Set in ${place.file} ${held}.`}
              </button>
            </>
          )}
        </p>
        {props.children}
      </div>
    </div>
  );
}

const reasons = { condition: 'under a condition', definition: 'in a definition', style: 'for all who use it' } as const;

const shown = (setting: Setting) => {
  const value = setting.value ?? setting.usual;
  if (value === null) return <span className="text-ink-2">as the class has it</span>;
  return setting.choices.find((c) => c.value === value)?.words ?? (value || 'none');
};

function Value(props: Props & { says: string }) {
  const { setting, isBusy, onSet } = props;
  const { choices, form, title } = setting;
  const value = setting.value ?? setting.usual;
  if (form === 'switch')
    return (
      <label className="flex items-center gap-2 pt-1">
        <input
          type="checkbox"
          aria-label={title}
          disabled={isBusy}
          checked={setting.value === 'on'}
          onChange={(e) => onSet(e.target.checked ? 'on' : null)}
        />
        {choices[0]?.words ?? (setting.value === 'on' ? 'yes' : 'no')}
      </label>
    );
  if (setting.id === 'author') return <AuthorRows key={setting.value ?? ''} {...props} />;
  if (form === 'choice') {
    // What only the source says is among them too.
    const offered =
      value === null || choices.some((c) => c.value === value) ? choices : [...choices, { value, words: value }];
    if (offered.reduce((sum, c) => sum + c.words.length + 3, 0) <= Short)
      return (
        <span className="inline-flex flex-wrap items-center gap-2">
          <ToggleGroup.Root
            type="single"
            aria-label={title}
            disabled={isBusy}
            value={value ?? ''}
            onValueChange={(v) => v && onSet(v)}
            className="inline-flex flex-wrap overflow-hidden rounded border border-rule bg-page"
          >
            {offered.map((c) => (
              <ToggleGroup.Item
                key={c.value}
                value={c.value}
                className="border-r border-rule px-2.5 py-1 last:border-0 hover:bg-paper data-[state=on]:bg-top data-[state=on]:font-medium data-[state=on]:text-white"
              >
                {c.words}
              </ToggleGroup.Item>
            ))}
          </ToggleGroup.Root>
          {setting.id === 'spacing' && <OwnFactor key={setting.value ?? ''} {...props} />}
        </span>
      );
    return (
      <select
        aria-label={title}
        disabled={isBusy}
        className="field py-1"
        value={value ?? ''}
        onChange={(e) => onSet(e.target.value)}
      >
        {value === null && <option value="">as the class has it</option>}
        {offered.map((c) => (
          <option key={c.value} value={c.value}>
            {c.words}
          </option>
        ))}
      </select>
    );
  }
  return <Words key={setting.value ?? ''} {...props} />;
}

/** A factor of one's own beside those with names. */
function OwnFactor({ setting, isBusy, onSet }: Props) {
  const named = setting.choices.some((c) => c.value === (setting.value ?? setting.usual));
  const [text, setText] = useState(named ? '' : (setting.value ?? ''));
  const factor = Number(text.replace(',', '.'));
  const isFine = factor >= 0.5 && factor <= 5;
  const take = () => isFine && String(factor) !== setting.value && onSet(String(factor));
  return (
    <label className="inline-flex items-center gap-1.5 text-ink-2">
      or a factor
      <input
        aria-label={`${setting.title}, a factor`}
        aria-invalid={text !== '' && !isFine}
        title="From 0.5 to 5; 1 is single"
        inputMode="decimal"
        className="field w-14 py-1 text-ink"
        disabled={isBusy}
        value={text}
        placeholder="1.15"
        onChange={(e) => setText(e.target.value)}
        onBlur={take}
        onKeyDown={(e) => e.key === 'Enter' && take()}
      />
    </label>
  );
}

/** Lengths and words: taken when one leaves the field, or by Enter. */
function Words({ setting, isBusy, now, onSet }: Props) {
  const [text, setText] = useState(setting.value ?? '');
  const list = useId();
  const { choices, form, title } = setting;
  const take = () => {
    const words = text.trim();
    if (words === (setting.value ?? '')) return;
    onSet(words === '' && (form === 'length' || setting.isLong || setting.value === null) ? null : words);
  };
  const common = {
    'aria-label': title,
    disabled: isBusy,
    value: text,
    onBlur: take,
    placeholder: setting.usual ?? now ?? (form === 'length' ? 'as the class has it' : ''),
  };
  if (form === 'text' && (setting.isLong || text.length > 40))
    return (
      <textarea
        {...common}
        rows={setting.isLong ? 6 : 2}
        className={`field py-1 ${setting.isLong ? 'font-serif text-[14px]' : 'font-mono text-[12.5px]'}`}
        onChange={(e) => setText(e.target.value)}
      />
    );
  return (
    <>
      <input
        {...common}
        list={choices.length > 0 ? list : undefined}
        className={`field py-1 font-mono text-[12.5px] ${form === 'length' ? 'max-w-[170px]' : ''}`}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === 'Enter') take();
          if (e.key === 'Escape') setText(setting.value ?? '');
        }}
      />
      {choices.length > 0 && (
        <datalist id={list}>
          {choices
            .filter((c) => c.value)
            .map((c) => (
              <option key={c.value} value={c.value}>
                {c.words}
              </option>
            ))}
        </datalist>
      )}
    </>
  );
}
