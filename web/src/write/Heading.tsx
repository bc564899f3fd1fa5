import { memo, type Ref } from 'react';
import type { Person } from '../api/client';
import { Initials } from '../ui/Brand';
import { plural } from '../ui/words';

/** A heading of the structure, by values: of hundreds only those that look otherwise than before are drawn anew at a key. */
export interface HeadingLooks {
  /** Its place in the structure. */
  section: number;
  number: string | null;
  /** It would get that number where it is held. */
  isNumberNew: boolean;
  title: string;
  page: string | null;
  /** Its level from the outermost one of the manuscript, with what a move would change. */
  depth: number;
  /** The words in its section. */
  words: number;
  canMove: boolean;
  canWrite: boolean;
  isHere: boolean;
  /** It is being moved, along with what stands within it. */
  isHeld: boolean;
  /** What is moved would come in there. */
  edge: 'above' | 'below' | null;
  /** What was found in its section. */
  findings: number;
  hasToFix: boolean;
  messages: string;
  /** Who else is in its section. */
  people: readonly Person[];
}

const edges = {
  above: 'shadow-[inset_0_2px_0_var(--color-rubric)]',
  below: 'shadow-[inset_0_-2px_0_var(--color-rubric)]',
};

const ways = '\nDrag it elsewhere, or Alt and an arrow: up, down, out and in\nRight button: more';

/** A heading as it is printed; what is done with it is its list's. */
export const Heading = memo(function Heading(props: HeadingLooks & { ref: Ref<HTMLButtonElement> | undefined }) {
  const { section, isHere, isHeld, canMove, ref } = props;
  return (
    <li
      draggable={canMove}
      data-section={section}
      // Of hundreds only those in view are laid out.
      className={`${props.edge ? edges[props.edge] : ''}`}
    >
      <button
        ref={ref}
        data-entry={isHere ? true : undefined}
        aria-current={isHere ? 'location' : undefined}
        aria-keyshortcuts={props.canWrite ? 'Alt+ArrowUp Alt+ArrowDown Alt+ArrowLeft Alt+ArrowRight' : undefined}
        title={`${props.title}\n${plural(props.words, 'word')}${canMove ? ways : ''}`}
        className={`relative flex w-full items-baseline gap-2 py-[3px] pr-2.5 text-left hover:bg-page/60 ${isHere ? 'bg-leaf font-semibold' : ''} ${isHeld ? 'bg-chosen' : ''}`}
        style={{ paddingLeft: 12 + props.depth * 12 }}
      >
        {isHere && <span className="absolute inset-y-0 left-0 w-[7px] bg-rubric" aria-hidden />}
        <span
          className={`w-7 shrink-0 font-serif text-[14px] font-medium ${props.isNumberNew ? 'text-moss-ink underline' : 'text-rubric-ink'}`}
        >
          {props.number}
        </span>
        <span className="min-w-0 flex-1 truncate text-[12.5px]">{props.title}</span>
        {props.findings > 0 && (
          <span
            className={`shrink-0 text-[11px] ${props.hasToFix ? 'text-rubric-ink' : 'text-ochre-ink'}`}
            title={props.messages}
          >
            <span aria-hidden>{props.hasToFix ? '●' : '▲'}</span>
            {props.findings}
            <span className="sr-only"> {props.findings === 1 ? 'finding' : 'findings'}</span>
          </span>
        )}
        {props.people.map((person) => (
          <span key={person.id} className="self-center">
            <Initials person={person} small />
            <span className="sr-only">{person.name} is here</span>
          </span>
        ))}
        <span className="text-[12px] font-normal text-ink-2">{props.page}</span>
      </button>
    </li>
  );
});
