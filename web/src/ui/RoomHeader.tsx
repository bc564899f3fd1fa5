import { Users } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Manuscript, Person } from '../api/client';
import type { Present } from '../live/live';
import { PeopleDialog } from '../people/PeopleDialog';
import { Brand, Initials } from './Brand';

const rooms = [
  { name: 'Write', path: 'write' },
  { name: 'Sources', path: 'sources' },
];

/** The top edge of every room: the manuscript's name, the ribbons that lead to its rooms, and who is in it. */
export function RoomHeader(props: {
  manuscript: Manuscript;
  person: Person;
  room: 'Write' | 'Sources';
  present: Present[];
}) {
  const { manuscript, person, room, present } = props;
  const [open, setOpen] = useState(false);
  const isHere = (p: Person) => p.id === person.id || present.some((s) => s.person.id === p.id);
  const people = [person, ...manuscript.people.filter((p) => p.id !== person.id)];
  const here = people.filter(isHere);
  return (
    <header className="flex h-[52px] shrink-0 items-center bg-ink pl-4 text-white">
      <Brand />
      <div className="ml-4 min-w-0 border-l border-white/20 pl-4">
        <h1 className="truncate font-serif text-[16px] leading-tight">{manuscript.title}</h1>
        <p className="truncate text-[12px] text-[#b9c0ca]">{manuscript.description}</p>
      </div>
      <nav aria-label="Rooms" className="mr-6 ml-auto flex gap-1 self-stretch">
        {rooms.map((r) => (
          <Link
            key={r.name}
            to={`/m/${manuscript.id}/${r.path}`}
            aria-current={r.name === room ? 'page' : undefined}
            className={
              r.name === room
                ? 'h-[43px] bg-rubric px-3.5 pt-3 font-medium [clip-path:polygon(0_0,100%_0,100%_100%,50%_84%,0_100%)]'
                : 'h-[36px] px-3.5 pt-2 text-[#d5d9df] hover:bg-white/10 hover:text-white'
            }
          >
            {r.name}
          </Link>
        ))}
      </nav>
      <span className="sr-only" role="status">
        {here.length > 1
          ? `Here with you: ${here
              .slice(1)
              .map((p) => p.name)
              .join(', ')}`
          : 'Nobody else is here'}
      </span>
      <div className="flex -space-x-1" aria-hidden>
        {[...here, ...people.filter((p) => !isHere(p))].slice(0, 7).map((p) => (
          <Initials key={p.id} person={p} away={!isHere(p)} />
        ))}
      </div>
      <button
        className="mr-4 ml-3 inline-flex items-center gap-1.5 rounded border border-white/25 px-2.5 py-1 hover:bg-white/10"
        onClick={() => setOpen(true)}
      >
        <Users className="size-3.5" /> People
      </button>
      {open && (
        <PeopleDialog manuscript={manuscript} person={person} present={present} onClose={() => setOpen(false)} />
      )}
    </header>
  );
}
