import { useMutation, useQuery } from '@tanstack/react-query';
import { useNavigate, useParams } from 'react-router';
import { post, type Person, type TakenInvitation } from '../api/client';
import { offerQuery } from '../api/queries';
import { Waiting } from '../ui/Waiting';
import { Unavailable } from '../ui/Unavailable';
import { moment } from '../ui/time';
import { roles } from '../people/roles';

/** Where an invitation's link leads: what it offers, and taking it. */
export default function Join({ person }: { person: Person }) {
  const { secret } = useParams();
  const path = `/api/invitations/${encodeURIComponent(secret ?? '')}`;
  const { data: offer, error, failureReason } = useQuery({ ...offerQuery(secret ?? ''), staleTime: Infinity });
  const navigate = useNavigate();
  const taking = useMutation({
    mutationFn: () => post<TakenInvitation>(path, {}),
    onSuccess: ({ manuscript }) => {
      if (manuscript !== null) return navigate(`/m/${manuscript}/write`, { replace: true });
    },
  });
  const waits = offer?.waits || taking.data?.manuscript === null;
  const problem = (taking.error ?? error)?.message;
  if (problem) return <Unavailable why={problem} />;
  if (!offer) return <Waiting what="The invitation" failure={failureReason} />;
  const role = roles.find((r) => r.value === offer.role)!;
  return (
    <main className="mx-auto flex min-h-full max-w-lg flex-col justify-center gap-4 p-6">
      <p className="text-ink-2">{offer.from} invites you to</p>
      <h1 className="-mt-2 font-serif text-4xl">{offer.title}</h1>
      <p>
        As {role.name.toLowerCase()}: {role.may}. The link holds until {moment(offer.endsAt)}.
      </p>
      {waits ? (
        <>
          <p role="status" className="rounded border border-rule bg-leaf px-3 py-2">
            {offer.from} sees that you ask to come in, with your name and address. Once you are let in, the manuscript
            is on your shelf.
          </p>
          <button className="button self-start py-2" onClick={() => void navigate('/')}>
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
            <button className="button button-main py-2" disabled={taking.isPending} onClick={() => taking.mutate()}>
              {offer.isOwn ? `Join as ${person.name}` : `Ask to come in as ${person.name}`}
            </button>
            <button className="button py-2" onClick={() => void navigate('/')}>
              Not now
            </button>
          </div>
        </>
      )}
    </main>
  );
}
