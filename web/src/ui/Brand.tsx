import { Link } from 'react-router';
import type { Person } from '../api/client';
import { initialsOf } from './initials';

/** The mark and the name, leading to the shelf. Where there is little room, and the mark is enough, it can be short. */
export function Brand({ isShort }: { isShort?: boolean }) {
  return (
    <Link
      to="/"
      className="flex items-center gap-2.5 font-serif text-[17px] text-white"
      aria-label="Young Folio, to your shelf"
    >
      <img src="/folio.svg" alt="" className="size-6" />
      <span className={isShort ? 'max-[1099px]:hidden' : ''}>Young Folio</span>
    </Link>
  );
}

/** A person's initials on the person's colour. */
export function Initials({ person, small, away }: { person: Person; small?: boolean; away?: boolean }) {
  const letters = initialsOf(person.name);
  const size = small ? 'size-5 text-[9px]' : 'size-6 text-[10px] ring-2 ring-top';
  return (
    <span
      title={away === undefined ? person.name : `${person.name}, ${away ? 'away' : 'here now'}`}
      className={`inline-flex shrink-0 items-center justify-center rounded-full font-semibold ${size} ${away ? 'border border-dashed border-ribbon-2 bg-top text-ribbon-2' : 'text-white'}`}
      style={away ? undefined : { background: person.colour }}
    >
      {letters}
    </span>
  );
}
