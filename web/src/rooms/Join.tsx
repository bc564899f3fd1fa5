import { useEffect, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { get, post, type Offer, type Person } from '../api/client';
import { Unavailable } from '../parts/Unavailable';
import { moment } from '../parts/time';
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
    void post<number>(path, {}).then(
      (id) => navigate(`/m/${id}/write`, { replace: true }),
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
      <div className="flex gap-2">
        <button className="button button-main py-2" onClick={take}>
          Join as {person.name}
        </button>
        <button className="button py-2" onClick={() => navigate('/')}>
          Not now
        </button>
      </div>
    </main>
  );
}
