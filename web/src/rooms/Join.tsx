import { useEffect, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { get, post, type Offer, type Person, type TakenInvitation } from '../api/client';
import { Unavailable } from '../ui/Unavailable';
import { moment } from '../ui/time';
import { roles } from '../people/roles';

/** Where an invitation's link leads: what it offers, and taking it. */
export function Join({ person }: { person: Person }) {
  const { secret } = useParams();
  const path = `/api/invitations/${encodeURIComponent(secret ?? '')}`;
  const [offer, setOffer] = useState<Offer | null>(null);
  const [problem, setProblem] = useState('');
  const navigate = useNavigate();
  useEffect(() => void get<Offer>(path).then(setOffer, (e: Error) => setProblem(e.message)), [path]);
  const take = () =>
    void post<TakenInvitation>(path, {}).then(
      ({ manuscript }) =>
        manuscript === null
          ? setOffer((o) => o && { ...o, waits: true })
          : void navigate(`/m/${manuscript}/write`, { replace: true }),
      (e: Error) => setProblem(e.message),
    );
  if (problem) return <Unavailable why={problem} />;
  if (!offer) return null;
  const role = roles.find((r) => r.value === offer.role)!;
  return (
    <main className="mx-auto flex min-h-full max-w-lg flex-col justify-center gap-4 p-6">
      <p className="text-ink-2">{offer.from} invites you to</p>
      <h1 className="-mt-2 font-serif text-4xl">{offer.title}</h1>
      <p>
        As {role.name.toLowerCase()}: {role.may}. The link holds until {moment(offer.endsAt)}.
      </p>
      {offer.waits ? (
        <>
          <p role="status" className="rounded border border-rule bg-leaf px-3 py-2">
            {offer.from} sees that you ask to come in, with your name and address. Once you are let in, the manuscript
            is on your shelf.
          </p>
          <button className="button self-start py-2" onClick={() => navigate('/')}>
            To your shelf
          </button>
        </>
      ) : (
        <>
          {!offer.isOwn && (
            <p className="text-ink-2">
              This link was sent to another address than your account’s, or yours isn’t verified: {offer.from} is asked
              first, and sees your name and address.
            </p>
          )}
          <div className="flex gap-2">
            <button className="button button-main py-2" onClick={take}>
              {offer.isOwn ? `Join as ${person.name}` : `Ask to come in as ${person.name}`}
            </button>
            <button className="button py-2" onClick={() => navigate('/')}>
              Not now
            </button>
          </div>
        </>
      )}
    </main>
  );
}
