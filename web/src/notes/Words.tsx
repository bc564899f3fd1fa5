import type { Person } from '../api/client';
import { namePieces } from './notes';

/** What somebody wrote, as words, with the names of people in it set off. */
export function Words({ text, people }: { text: string; people: readonly Person[] }) {
  return (
    <span className="mt-0.5 block text-[13px] leading-snug [overflow-wrap:anywhere] whitespace-pre-wrap">
      {namePieces(text, people).map((p, i) =>
        p.isName ? (
          <b key={i} className="font-medium text-slate">
            {p.text}
          </b>
        ) : (
          <span key={i}>{p.text}</span>
        ),
      )}
    </span>
  );
}
