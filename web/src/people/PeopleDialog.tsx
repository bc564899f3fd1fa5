import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { LogOut } from 'lucide-react';
import { Tabs } from 'radix-ui';
import { useState, type FormEvent } from 'react';
import { useNavigate } from 'react-router';
import { call, post, type Member, type Role } from '../api/client';
import { keys, peopleQuery } from '../api/queries';
import { useRoom } from '../rooms/roomContext';
import { AskConsent } from '../ui/Ask';
import { Initials } from '../ui/Brand';
import { MenuItem, MoreMenu } from '../ui/Menu';
import { Panel } from '../ui/Panel';
import { moment } from '../ui/time';
import { RoleSelect } from './RoleSelect';
import { roleName } from './roles';
import { Tokens } from './Tokens';

interface Props {
  onClose: () => void;
}

const tab =
  'border-b-2 border-transparent px-1 pb-1.5 text-ink-2 data-[state=active]:border-rubric data-[state=active]:font-medium data-[state=active]:text-ink';

/** Who is in the manuscript and as what; the owner invites, changes and hands over here. */
export function PeopleDialog({ onClose }: Props) {
  const { manuscript, canWrite } = useRoom();
  return (
    <Panel
      title={`People of “${manuscript.title}”`}
      className="flex max-h-[88vh] w-[44rem] flex-col"
      cross
      onClose={onClose}
    >
      <Tabs.Root defaultValue="people" className="mt-2 flex min-h-0 flex-col">
        <Tabs.List className="flex gap-5 border-b border-rule" aria-label="People and scripts">
          <Tabs.Trigger value="people" className={tab}>
            People
          </Tabs.Trigger>
          {canWrite && (
            <Tabs.Trigger value="scripts" className={tab}>
              Scripts
            </Tabs.Trigger>
          )}
        </Tabs.List>
        <Tabs.Content value="people" className="min-h-0 overflow-y-auto pt-3">
          <Members onClose={onClose} />
        </Tabs.Content>
        <Tabs.Content value="scripts" className="min-h-0 overflow-y-auto pt-3">
          <Tokens />
        </Tabs.Content>
      </Tabs.Root>
    </Panel>
  );
}

/** What has to be agreed to, and what is done then. */
interface Asked {
  title: string;
  text: string;
  action: string;
  yes: () => Promise<unknown>;
}

function Members({ onClose }: Props) {
  const { manuscript, person, present } = useRoom();
  const base = `/api/manuscripts/${manuscript.id}`;
  const isOwner = manuscript.role === 'owner';
  const client = useQueryClient();
  const { data: people, error } = useQuery(peopleQuery(manuscript.id));
  const [asking, setAsking] = useState<Asked | null>(null);
  const navigate = useNavigate();
  const stale = () => client.invalidateQueries({ queryKey: keys.people(manuscript.id) });
  const acting = useMutation({ mutationFn: (what: () => Promise<unknown>) => what(), onSuccess: stale });
  const act = (what: () => Promise<unknown>) => acting.mutate(what);
  const problem = (acting.error ?? error)?.message;
  const leave = async () => {
    await post(`${base}/leave`, {});
    onClose();
    await navigate('/');
  };
  return (
    <>
      {isOwner && <Invite base={base} onInvited={() => void stale()} />}
      {problem && (
        <p role="alert" className="mb-2 text-rubric">
          {problem}
        </p>
      )}
      <ul aria-label="Members" className="divide-y divide-rule">
        {people?.members.map((m) => (
          <MemberRow
            key={m.person.id}
            member={m}
            isMe={m.person.id === person.id}
            isHere={m.person.id === person.id || present.some((p) => p.person.id === m.person.id)}
            canDecide={isOwner && m.role !== 'owner'}
            onRole={(role) => act(() => call('PUT', `${base}/people/${m.person.id}`, { role }))}
            onRemove={() =>
              setAsking({
                title: `Take ${m.person.name} off the manuscript?`,
                text: 'What this person wrote stays. It can no longer be read by them, at once.',
                action: 'Take off',
                yes: () => call('DELETE', `${base}/people/${m.person.id}`),
              })
            }
            onHandOver={() =>
              setAsking({
                title: `Hand the manuscript over to ${m.person.name}?`,
                text: 'You stay as an author. Only the new owner can give it back.',
                action: 'Hand over',
                yes: () => post(`${base}/people/${m.person.id}/owner`, {}),
              })
            }
          />
        ))}
      </ul>
      {people && people.invitations.length > 0 && (
        <>
          <h3 className="mt-4 mb-1 text-[11px] tracking-wide text-ink-2 uppercase">Invited</h3>
          <ul aria-label="Invitations" className="divide-y divide-rule">
            {people.invitations.map((i) => (
              <li key={i.id} className="flex flex-wrap items-center gap-x-3 gap-y-1 py-1.5">
                <span className="min-w-[150px] flex-1">
                  <span className="block truncate">{i.email}</span>
                  {i.askedBy && (
                    <span className="block text-[12.5px]">
                      <b className="font-medium">{i.askedBy.name}</b> ({i.askedFrom}) has the link and asks to come in.
                    </span>
                  )}
                </span>
                <span className="shrink-0 text-[12.5px] text-ink-2">
                  {roleName(i.role)} · the link ends {moment(i.endsAt)}
                </span>
                {i.askedBy && (
                  <button
                    className="button button-main px-2 py-0.5"
                    onClick={() => act(() => post(`${base}/invitations/${i.id}/let-in`, {}))}
                  >
                    Let in
                  </button>
                )}
                <button
                  className="button px-2 py-0.5"
                  onClick={() => act(() => call('DELETE', `${base}/invitations/${i.id}`))}
                >
                  Withdraw
                </button>
              </li>
            ))}
          </ul>
        </>
      )}
      {!isOwner && (
        <button
          className="button mt-4"
          onClick={() =>
            setAsking({
              title: 'Leave this manuscript?',
              text: 'What you wrote stays. To come back you need a new invitation.',
              action: 'Leave',
              yes: leave,
            })
          }
        >
          <LogOut className="size-3.5" /> Leave this manuscript
        </button>
      )}
      {asking && (
        <AskConsent
          title={asking.title}
          text={asking.text}
          action={asking.action}
          onClose={() => setAsking(null)}
          onYes={() => act(asking.yes)}
        />
      )}
    </>
  );
}

function Invite({ base, onInvited }: { base: string; onInvited: () => void }) {
  const [email, setEmail] = useState('');
  const [role, setRole] = useState<Role>('author');
  const [days, setDays] = useState('14');
  const [said, setSaid] = useState('');
  const inviting = useMutation({
    mutationFn: () => post<{ link: string }>(`${base}/invitations`, { email, role, days: Number(days) || 14 }),
    onSuccess: ({ link }) => {
      setSaid(`${email} is invited. You can give them this link yourself too: ${location.origin}${link}`);
      setEmail('');
      onInvited();
    },
    onMutate: () => setSaid(''),
  });
  const invite = (event: FormEvent) => {
    event.preventDefault();
    inviting.mutate();
  };
  const problem = inviting.error?.message;
  return (
    <form onSubmit={invite} className="mb-3 rounded border border-rule bg-paper p-3">
      <div className="flex flex-wrap items-end gap-2.5">
        <label className="flex min-w-[200px] flex-1 flex-col gap-1 text-[12.5px] text-ink-2">
          Invite by e-mail address
          <input type="email" className="field text-ink" value={email} onChange={(e) => setEmail(e.target.value)} />
        </label>
        <span className="flex flex-col gap-1 text-[12.5px] text-ink-2">
          As
          <RoleSelect label="Role of the invited" value={role} onChange={setRole} />
        </span>
        <label className="flex w-24 flex-col gap-1 text-[12.5px] text-ink-2">
          Days it holds
          <input
            type="number"
            min={1}
            max={90}
            className="field text-ink"
            value={days}
            onChange={(e) => setDays(e.target.value)}
          />
        </label>
        <button className="button button-main h-[33px]" disabled={!email.trim()}>
          Invite
        </button>
      </div>
      {(problem || said) && (
        <p
          role={problem ? 'alert' : 'status'}
          className={`mt-2 break-all ${problem ? 'text-rubric' : 'text-moss-ink'}`}
        >
          {problem || said}
        </p>
      )}
    </form>
  );
}

function MemberRow(props: {
  member: Member;
  isMe: boolean;
  isHere: boolean;
  canDecide: boolean;
  onRole: (role: Role) => void;
  onRemove: () => void;
  onHandOver: () => void;
}) {
  const { member, isMe, isHere } = props;
  const seen = isHere ? 'here now' : member.seenAt ? `last here ${moment(member.seenAt)}` : 'not here yet';
  return (
    <li className="flex flex-wrap items-center gap-x-3 gap-y-1 py-2">
      <Initials person={member.person} small />
      <span className="min-w-[150px] flex-1">
        <span className="font-medium">{member.person.name}</span>
        {isMe && <span className="text-ink-2"> (you)</span>}
        {member.email && <span className="block truncate text-[12.5px] text-ink-2">{member.email}</span>}
      </span>
      <span className={`text-[12.5px] whitespace-nowrap ${isHere ? 'text-moss-ink' : 'text-ink-2'}`}>{seen}</span>
      {props.canDecide ? (
        <RoleSelect label={`Role of ${member.person.name}`} value={member.role} onChange={props.onRole} />
      ) : (
        <span className="w-28 px-2">{roleName(member.role)}</span>
      )}
      {props.canDecide ? (
        <MoreMenu of={member.person.name}>
          <MenuItem onSelect={props.onHandOver}>Hand the manuscript over …</MenuItem>
          <MenuItem isGrave onSelect={props.onRemove}>
            Take off …
          </MenuItem>
        </MoreMenu>
      ) : (
        <span className="w-6" />
      )}
    </li>
  );
}
