import { Link } from 'react-router';
import type { Manuscript, Person } from '../api/client';
import { Brand, Initials } from './Brand';

const rooms = [
  { name: 'Write', path: 'write' },
  { name: 'Sources', path: 'sources' },
];

/** The top edge of every room: the manuscript's name, the ribbons that lead to its rooms, and who is in it. */
export function RoomHeader({
  manuscript,
  person,
  room,
}: {
  manuscript: Manuscript;
  person: Person;
  room: 'Write' | 'Sources';
}) {
  return (
    <header className="flex h-[52px] shrink-0 items-center bg-ink pl-4 text-white">
      <Brand />
      <div className="ml-4 border-l border-white/20 pl-4">
        <h1 className="font-serif text-[16px] leading-tight">{manuscript.title}</h1>
        <p className="text-[12px] text-[#b9c0ca]">{manuscript.description}</p>
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
      <div className="mr-4 flex -space-x-1">
        {[person, ...manuscript.people.filter((p) => p.id !== person.id)].map((p) => (
          <Initials key={p.id} person={p} />
        ))}
      </div>
    </header>
  );
}
