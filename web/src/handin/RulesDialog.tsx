import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { call, post, type HouseRules, type RulesEntry } from '../api/client';
import { rulesQuery } from '../api/queries';
import { Panel } from '../ui/Panel';

const papers = [
  ['', 'any'],
  ['a4', 'A4'],
  ['a5', 'A5'],
  ['b5', 'B5'],
  ['letter', 'Letter'],
  ['legal', 'Legal'],
] as const;
const spacings = [
  ['', 'any'],
  ['1.15', 'single'],
  ['1.45', 'one and a half'],
  ['1.9', 'double'],
] as const;

const flavours = [
  ['', 'for reading and printing'],
  ['accessible', 'for those who listen to it, too (PDF/UA-1)'],
  ['archival', 'for keeping (PDF/A-2)'],
  ['archival-with-sources', 'for keeping, with its sources (PDF/A-3)'],
  ['accessible-archival', 'for keeping and for those who listen (PDF/UA-1, PDF/A-3)'],
] as const;

type Key = keyof HouseRules;
const numbers: readonly { title: string; unit: string; keys: readonly [Key, string][] }[] = [
  {
    title: 'Margins, at least',
    unit: 'mm',
    keys: [
      ['inner', 'Inner'],
      ['outer', 'Outer'],
      ['top', 'Top'],
      ['bottom', 'Bottom'],
    ],
  },
  {
    title: 'Pages',
    unit: '',
    keys: [
      ['fewestPages', 'Fewest'],
      ['mostPages', 'Most'],
    ],
  },
  {
    title: 'Words',
    unit: '',
    keys: [
      ['fewestWords', 'Fewest'],
      ['mostWords', 'Most'],
    ],
  },
  {
    title: 'Words of the abstract',
    unit: '',
    keys: [
      ['fewestAbstractWords', 'Fewest'],
      ['mostAbstractWords', 'Most'],
    ],
  },
  {
    title: 'Type, at least',
    unit: 'pt',
    keys: [
      ['leastText', 'Running text'],
      ['leastType', 'Anything'],
    ],
  },
  { title: 'Pictures, at least', unit: 'dots an inch', keys: [['leastDots', 'As printed']] },
];

/** Rules of a house as fields: those that are empty aren't checked. Saved under a name, the group may use them for any manuscript. */
export function RulesDialog(props: { from: RulesEntry; onSaved: (key: string) => void; onClose: () => void }) {
  const { from, onSaved, onClose } = props;
  const client = useQueryClient();
  const [name, setName] = useState(from.isOwn ? from.name : '');
  const [rules, setRules] = useState<HouseRules>(from.rules);
  const [headings, setHeadings] = useState((from.rules.headings ?? []).join('\n'));
  const set = (change: Partial<HouseRules>) => setRules((r) => ({ ...r, ...change }));
  const again = () => client.invalidateQueries({ queryKey: rulesQuery.queryKey });
  const saving = useMutation({
    mutationFn: () =>
      post<number>('/api/rules', {
        name,
        rules: {
          ...rules,
          headings: headings
            .split('\n')
            .map((h) => h.trim())
            .filter(Boolean),
        },
      }),
    onSuccess: async (id) => {
      await again();
      onSaved(String(id));
      onClose();
    },
  });
  const deleting = useMutation({
    mutationFn: () => call('DELETE', `/api/rules/${from.key}`),
    onSuccess: async () => {
      await again();
      onSaved('none');
      onClose();
    },
  });
  const problem = saving.error ?? deleting.error;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    saving.mutate();
  };
  return (
    <Panel title="Rules of a house" className="w-[46rem]" busy={saving.isPending} onClose={onClose}>
      <form onSubmit={submit} className="mt-3 flex flex-col gap-3">
        <label className="flex flex-col gap-1 text-ink-2">
          What they are called
          <input
            className="field text-ink"
            placeholder="Office of Perpetua Vane, MSc theses"
            maxLength={80}
            value={name}
            onChange={(e) => setName(e.target.value)}
            autoFocus
          />
        </label>
        <div className="grid grid-cols-1 gap-x-6 gap-y-3 min-[640px]:grid-cols-2">
          {numbers.map((group) => (
            <fieldset key={group.title}>
              <legend className="text-ink-2">
                {group.title} {group.unit && <span className="text-[12.5px]">({group.unit})</span>}
              </legend>
              <div className="mt-1 flex gap-2">
                {group.keys.map(([key, says]) => (
                  <label key={key} className="flex min-w-0 flex-1 flex-col text-[12.5px] text-ink-2">
                    {says}
                    <input
                      className="field py-1 text-ink"
                      inputMode="decimal"
                      aria-label={`${group.title}: ${says}`}
                      value={(rules[key] as number | null | undefined) ?? ''}
                      onChange={(e) => {
                        const text = e.target.value.trim().replace(',', '.');
                        if (text === '') set({ [key]: null });
                        else if (/^\d*\.?\d*$/.test(text) && !Number.isNaN(Number(text))) set({ [key]: Number(text) });
                      }}
                    />
                  </label>
                ))}
              </div>
            </fieldset>
          ))}
          <div className="flex gap-3">
            <label className="flex flex-1 flex-col gap-1 text-ink-2">
              Paper
              <select
                className="field py-1 text-ink"
                value={rules.paper ?? ''}
                onChange={(e) => set({ paper: e.target.value || null })}
              >
                {papers.map(([value, says]) => (
                  <option key={value} value={value}>
                    {says}
                  </option>
                ))}
              </select>
            </label>
            <label className="flex flex-1 flex-col gap-1 text-ink-2">
              Lines, at least
              <select
                className="field py-1 text-ink"
                value={String(rules.leastSpacing ?? '')}
                onChange={(e) => set({ leastSpacing: e.target.value ? Number(e.target.value) : null })}
              >
                {spacings.map(([value, says]) => (
                  <option key={value} value={value}>
                    {says}
                  </option>
                ))}
              </select>
            </label>
          </div>
          <label className="flex flex-col gap-1 text-ink-2 min-[640px]:row-span-2">
            Headings that have to be there, a line each
            <textarea
              className="field text-ink"
              rows={7}
              value={headings}
              onChange={(e) => setHeadings(e.target.value)}
            />
          </label>
          <div className="flex flex-col gap-2">
            <label className="flex flex-col gap-1 text-ink-2">
              Name of the PDF
              <input
                className="field py-1 text-ink"
                placeholder="{author}-{year}-{title}"
                maxLength={200}
                value={rules.fileName ?? ''}
                onChange={(e) => set({ fileName: e.target.value || null })}
              />
            </label>
            <label className="flex flex-col gap-1 text-ink-2">
              The PDF is made
              <select
                className="field py-1 text-ink"
                value={rules.flavour ?? ''}
                onChange={(e) => set({ flavour: e.target.value || null })}
              >
                {flavours.map(([value, says]) => (
                  <option key={value} value={value}>
                    {says}
                  </option>
                ))}
              </select>
            </label>
            <label className="flex flex-col gap-1 text-ink-2">
              Address that it goes to
              <input
                className="field py-1 text-ink"
                type="email"
                maxLength={200}
                value={rules.address ?? ''}
                onChange={(e) => set({ address: e.target.value || null })}
              />
            </label>
          </div>
        </div>
        <label className="flex items-baseline gap-2">
          <input
            type="checkbox"
            className="accent-moss"
            checked={rules.wantsAlternatives ?? false}
            onChange={(e) => set({ wantsAlternatives: e.target.checked })}
          />
          Pictures need words for those who can’t see them
        </label>
        <label className="flex items-baseline gap-2">
          <input
            type="checkbox"
            className="accent-moss"
            checked={rules.isAnonymous ?? false}
            onChange={(e) => set({ isAnonymous: e.target.checked })}
          />
          Nothing may say whose it is
        </label>
        <p className="text-[12.5px] text-ink-2">
          What is left empty isn’t checked. Those who write with you can use these rules, too.
        </p>
        {problem && (
          <p role="alert" className="text-rubric">
            {problem.message}
          </p>
        )}
        <div className="flex gap-2">
          {from.isOwn && (
            <button type="button" className="button text-rubric-ink" onClick={() => deleting.mutate()}>
              Delete these rules
            </button>
          )}
          <span className="flex-1" />
          <button type="button" className="button" onClick={onClose}>
            Cancel
          </button>
          <button className="button button-main" disabled={saving.isPending || !name.trim()}>
            Save and use
          </button>
        </div>
      </form>
    </Panel>
  );
}
