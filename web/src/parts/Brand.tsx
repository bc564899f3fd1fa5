import { Link } from 'react-router';
import type { Person } from '../api/client';

/** The mark and the name, leading to the shelf. */
export function Brand() {
  return (
    <Link
      to="/"
      className="flex items-center gap-2.5 font-serif text-[17px] text-white"
      aria-label="Young Folio, to your shelf"
    >
      <img src="/folio.svg" alt="" className="size-6" />
      Young Folio
    </Link>
  );
}

/** A person's initials on the person's colour. */
export function Initials({ person }: { person: Person }) {
  const letters = person.name
    .split(' ')
    .map((w) => w[0])
    .join('');
  return (
    <span
      title={person.name}
      className="inline-flex size-6 items-center justify-center rounded-full text-[10px] font-semibold text-white ring-2 ring-ink"
      style={{ background: person.colour }}
    >
      {letters}
    </span>
  );
}
