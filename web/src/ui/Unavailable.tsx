import { Link } from 'react-router';

/** What a room shows when its manuscript can't be opened: why, and the way back. */
export function Unavailable({ why }: { why: string }) {
  return (
    <p className="p-10">
      {why}{' '}
      <Link to="/" className="text-slate underline">
        Back to your shelf
      </Link>
    </p>
  );
}
