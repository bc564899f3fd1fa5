import type { ReactNode } from 'react';
import type { Person } from '../api/client';

/** Which events are shown; empty: all of them. */
export interface HistoryFilter {
  person: string;
  kind: string;
  /** What is looked for: the name of a section or file, or words of the text. */
  words: string;
  isInText: boolean;
}

const kinds = [
  ['', 'everything'],
  ['text', 'writing'],
  ['act', 'what rooms did'],
  ['create', 'new files'],
  ['upload', 'replaced files'],
  ['delete', 'deleted files'],
  ['setting', 'settings'],
] as const;

/** Whose events are shown, what kind of them, and where, or in which words came and went. */
export function HistoryFilters(props: {
  filter: HistoryFilter;
  /** Whether words are followed: then whose and what don’t count. */
  isTracing: boolean;
  people: readonly Person[];
  onFilter: (part: Partial<HistoryFilter>) => void;
  children: ReactNode;
}) {
  const { filter, isTracing, people, onFilter, children } = props;
  return (
    <div className="grid grid-cols-[1fr_1fr_auto] gap-1.5 border-b border-rule px-3 py-2">
      <select
        aria-label="Whose"
        className="field py-0.5 text-[12.5px]"
        value={filter.person}
        disabled={isTracing}
        onChange={(e) => onFilter({ person: e.target.value })}
      >
        <option value="">everyone’s</option>
        {people.map((p) => (
          <option key={p.id} value={p.id}>
            {p.name}
          </option>
        ))}
      </select>
      <select
        aria-label="What"
        className="field py-0.5 text-[12.5px]"
        value={filter.kind}
        disabled={isTracing}
        onChange={(e) => onFilter({ kind: e.target.value })}
      >
        {kinds.map(([value, name]) => (
          <option key={value} value={value}>
            {name}
          </option>
        ))}
      </select>
      {children}
      <div className="col-span-full flex gap-1.5">
        <select
          aria-label="Find by"
          className="field w-auto py-0.5 text-[12.5px]"
          value={filter.isInText ? 'text' : 'place'}
          onChange={(e) => onFilter({ isInText: e.target.value === 'text' })}
        >
          <option value="place">section or file</option>
          <option value="text">words of the text</option>
        </select>
        <input
          aria-label="Find in the history"
          placeholder={filter.isInText ? 'When they came, when they went' : 'Its name'}
          className="field min-w-0 flex-1 py-0.5 text-[12.5px]"
          value={filter.words}
          onChange={(e) => onFilter({ words: e.target.value })}
        />
      </div>
    </div>
  );
}
