import { useInfiniteQuery } from '@tanstack/react-query';
import { MessageSquareText, Users } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Person } from '../api/client';
import { talkQuery } from '../api/queries';
import { PeopleDialog } from '../people/PeopleDialog';
import { Brand, Initials } from '../ui/Brand';
import { addressOf, useRoom } from './roomContext';
import { fetchAhead, rooms } from './rooms';

/** The top edge of every room: the manuscript's name, the ribbons that lead to its rooms, and who is in it. */
export function RoomHeader({ room, talks, onTalk }: { room: string; talks: boolean; onTalk: () => void }) {
  const { manuscript, person, present, memory } = useRoom();
  const [open, setOpen] = useState(false);
  const { data: talk } = useInfiniteQuery(talkQuery(manuscript.id));
  const unread = talk?.pages[0]?.unread ?? 0;
  const isHere = (p: Person) => p.id === person.id || present.some((s) => s.person.id === p.id);
  const people = [person, ...manuscript.people.filter((p) => p.id !== person.id)];
  const here = people.filter(isHere);
  const others = here.slice(1).map((p) => p.name);
  return (
    <header
      data-leaf="top"
      className="grid shrink-0 grid-cols-[auto_minmax(0,1fr)_auto] items-center bg-top text-white min-[900px]:h-[52px] min-[900px]:grid-cols-[auto_minmax(0,1fr)_auto_auto]"
    >
      <div className="flex h-[52px] items-center pl-4">
        <Brand isShort />
      </div>
      <div className="ml-3 min-w-0 border-l border-white/20 pl-3 min-[900px]:ml-4 min-[900px]:pl-4">
        <h1 className="truncate font-serif text-[16px] leading-tight">{manuscript.title}</h1>
        <p className="truncate text-[12px] text-ribbon-2">{manuscript.description}</p>
      </div>
      <nav
        aria-label="Rooms"
        className="order-last col-span-3 flex min-w-0 gap-1 overflow-x-auto border-t border-white/15 px-2 min-[900px]:order-none min-[900px]:col-span-1 min-[900px]:mr-6 min-[900px]:self-stretch min-[900px]:border-0 min-[900px]:px-0"
      >
        {rooms
          .filter((r) => r.isFor(manuscript.role))
          .map((r) => ({ ...r, ahead: () => fetchAhead(r, manuscript.id) }))
          .map(({ path, ribbon, icon: Icon, ahead }) => (
            <Link
              key={path}
              to={`/m/${manuscript.id}/${path}${memory.get(addressOf(path), '')}`}
              aria-current={path === room ? 'page' : undefined}
              onPointerEnter={ahead}
              onFocus={ahead}
              className={`flex shrink-0 items-start gap-1.5 px-3.5 max-[899px]:h-[36px] max-[899px]:items-center ${
                path === room
                  ? 'h-[43px] bg-rubric pt-3 font-medium text-on-rubric max-[899px]:pt-0 min-[900px]:[clip-path:polygon(0_0,100%_0,100%_100%,50%_84%,0_100%)]'
                  : 'h-[36px] pt-2 text-ribbon hover:bg-white/10 hover:text-white max-[899px]:pt-0'
              }`}
            >
              <Icon className="mt-0.5 size-3.5 max-[899px]:mt-0" aria-hidden />
              {ribbon}
            </Link>
          ))}
      </nav>
      <div className="flex items-center">
        <p className="sr-only">{others.length > 0 ? `Here with you: ${others.join(', ')}` : 'Nobody else is here'}</p>
        <div className="flex -space-x-1 max-[599px]:hidden" aria-hidden>
          {[...here, ...people.filter((p) => !isHere(p))].slice(0, 7).map((p) => (
            <Initials key={p.id} person={p} away={!isHere(p)} />
          ))}
        </div>
        <button
          aria-pressed={talks}
          aria-label={unread > 0 ? `Talk, ${unread} unread` : 'Talk'}
          title="What is said of the manuscript"
          className={`ml-3 inline-flex items-center gap-1 rounded border border-white/25 px-2 py-1 hover:bg-white/10 ${talks ? 'bg-white/15' : ''}`}
          onClick={onTalk}
        >
          <MessageSquareText className="size-3.5" aria-hidden />
          {unread > 0 && (
            <span className="rounded-full bg-ochre px-1.5 text-[11px] font-semibold text-top">{unread}</span>
          )}
        </button>
        <button
          className="mr-4 ml-2 inline-flex items-center gap-1.5 rounded border border-white/25 px-2.5 py-1 hover:bg-white/10"
          onClick={() => setOpen(true)}
        >
          <Users className="size-3.5" aria-hidden /> People
        </button>
      </div>
      {open && <PeopleDialog onClose={() => setOpen(false)} />}
    </header>
  );
}
