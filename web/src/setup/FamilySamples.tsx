import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { Setting } from '../api/client';
import { beginningQuery } from '../api/queries';
import { DrawnPage } from '../proof/DrawnPage';

/** One page with a line in each family, printed by the engine: letters as they will be. */
const pageIn = (load: string) =>
  [
    '\\documentclass{article}',
    '\\usepackage[paperwidth=112mm,paperheight=17mm,margin=2mm,left=3mm]{geometry}',
    `\\usepackage{${load}}`,
    '\\pagestyle{empty}\\setlength{\\parindent}{0pt}',
    '\\begin{document}',
    'The oldest walls carry the widest lichen: 1740, 83\\,mm. \\textit{Growth slows} with $r(t)=r_0\\,e^{-kt}$.',
    '\\end{document}',
    '',
  ].join('\n');

/** The families of type in their own letters; a click chooses one. */
export function FamilySamples(props: { setting: Setting; canChoose: boolean; onChoose: (family: string) => void }) {
  const { setting, canChoose, onChoose } = props;
  const [isOpen, setIsOpen] = useState(false);
  const chosen = setting.value ?? setting.usual;
  return (
    <details className="mt-1" onToggle={(e) => setIsOpen(e.currentTarget.open)}>
      <summary className="cursor-pointer text-[12.5px] text-slate">Each in its own letters</summary>
      {isOpen && (
        <ul aria-label="Families" className="mt-1 space-y-1.5">
          {setting.choices.map((c) => (
            <li key={c.value}>
              <button
                aria-pressed={c.value === chosen}
                disabled={!canChoose}
                className="block w-full rounded border border-rule p-1 text-left hover:bg-paper aria-pressed:border-rubric aria-pressed:bg-chosen"
                onClick={() => c.value !== chosen && onChoose(c.value)}
              >
                <span className="text-[12px] text-ink-2">{c.words}</span>
                {c.package && <Line load={c.package} words={c.words} />}
              </button>
            </li>
          ))}
        </ul>
      )}
    </details>
  );
}

function Line({ load, words }: { load: string; words: string }) {
  const { data } = useQuery(beginningQuery(JSON.stringify({ title: words, text: pageIn(load) })));
  return data ? (
    <DrawnPage page={data.page} width={296} label={`A line in ${words}`} />
  ) : (
    <span className="block h-[45px]" />
  );
}
