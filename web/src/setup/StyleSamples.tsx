import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { stylesQuery } from '../api/queries';
import { useRoom } from '../rooms/roomContext';

/** What each style makes of the manuscript's own sources; a click chooses it. */
export function StyleSamples(props: { chosen: string | null; canChoose: boolean; onChoose: (style: string) => void }) {
  const { chosen, canChoose, onChoose } = props;
  const { manuscript } = useRoom();
  const [isOpen, setIsOpen] = useState(false);
  const { data, error } = useQuery({ ...stylesQuery(manuscript.id), enabled: isOpen });
  return (
    <details className="mt-1" onToggle={(e) => setIsOpen(e.currentTarget.open)}>
      <summary className="cursor-pointer text-[12.5px] text-slate">Your own sources in each style</summary>
      {error && <p className="text-rubric">{error.message}</p>}
      {data?.length === 0 && <p className="text-ink-2">There is no source yet.</p>}
      <ul aria-label="Styles" className="mt-1">
        {data?.map((s) => (
          <li key={s.style} className={`border-b border-rule/60 py-1.5 ${s.style === chosen ? 'bg-chosen' : ''}`}>
            <p className="flex items-baseline gap-2">
              <span className="font-mono text-[12px]">{s.style}</span>
              <span className="min-w-0 flex-1 truncate font-serif">{s.citation}</span>
              {s.style === chosen ? (
                <span className="chip bg-moss-tint text-moss-ink">chosen</span>
              ) : (
                canChoose && (
                  <button
                    className="button px-2 py-0 text-[12px]"
                    aria-label={`Choose ${s.style}`}
                    onClick={() => onChoose(s.style)}
                  >
                    Choose
                  </button>
                )
              )}
            </p>
            {s.sources.map((source, i) => (
              <p key={i} className="pl-4 -indent-4 font-serif text-[13.5px] leading-snug">
                {source.label && `${source.label} `}
                {source.printed.map((run, at) => (run.isSlanted ? <em key={at}>{run.text}</em> : run.text))}
              </p>
            ))}
          </li>
        ))}
      </ul>
    </details>
  );
}
