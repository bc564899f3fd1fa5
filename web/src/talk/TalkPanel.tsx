import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { useEffect, useEffectEvent, useLayoutEffect, useRef, useState, type FormEvent } from 'react';
import { Link, useNavigate } from 'react-router';
import { call, post, type TalkLink, type TalkMessage } from '../api/client';
import { chronicleQuery, keys, sourcesQuery, talkQuery } from '../api/queries';
import { Words } from '../notes/Words';
import { actionsOf, type Pointing } from '../rooms/actions';
import type { StoredStretch } from '../live/textSync';
import { useRoom } from '../rooms/roomContext';
import { Initials } from '../ui/Brand';
import { MenuItem, MoreMenu } from '../ui/Menu';
import { moment } from '../ui/time';
import { addressOfLink, goesOn, nameOfLink } from './talk';

/** What the next message leads to. */
interface Wish {
  kind: string;
  target: string;
  /** How it is called until it is sent. */
  name: string;
  /** What it leads to in a text; null: it leads elsewhere. */
  at: Pointing | null;
}

/** The whole history. */
const everything = {};

const asWish = (at: Pointing): Wish => ({
  kind: at.kind,
  target: at.target,
  name: at.kind === 'page' ? `page ${at.target}` : `“${at.words}”`,
  at,
});

const nowhere: StoredStretch = { version: 0, from: 0, to: 0 };

/** The talk of the manuscript, beside whichever room one is in. */
export function TalkPanel({ onClose }: { onClose: () => void }) {
  const { manuscript } = useRoom();
  const client = useQueryClient();
  const { data, refetch, fetchNextPage, hasNextPage, isFetchingNextPage, error } = useInfiniteQuery(
    talkQuery(manuscript.id),
  );
  const messages = data && [...data.pages].reverse().flatMap((p) => p.messages);
  const newest = messages?.at(-1)?.id ?? 0;
  const unread = data?.pages[0]?.unread ?? 0;
  // Others may have written since: a link leads to where its words are now.
  const follow = async (message: TalkMessage) => {
    const { data: now } = await refetch();
    const found = now?.pages.flatMap((p) => p.messages).find((m) => m.id === message.id)?.link ?? message.link;
    const to = found && addressOfLink(manuscript.id, found);
    if (to) void navigate(to);
  };
  const navigate = useNavigate();
  const list = useRef<HTMLDivElement>(null);
  useLayoutEffect(() => {
    list.current?.scrollTo({ top: list.current.scrollHeight });
  }, [newest]);
  // What is shown is read.
  const read = useEffectEvent(() => {
    if (unread === 0) return;
    void post(`/api/manuscripts/${manuscript.id}/talk/seen`, { message: newest }).then(
      () => client.invalidateQueries({ queryKey: keys.talk(manuscript.id) }),
      () => undefined,
    );
  });
  useEffect(() => read(), [newest, unread]);
  return (
    <aside
      aria-label="Talk"
      data-leaf="talk"
      className="flex h-full min-h-0 w-[320px] shrink-0 flex-col border-l border-rule bg-leaf max-[1499px]:fixed max-[1499px]:top-[52px] max-[1499px]:right-0 max-[1499px]:bottom-0 max-[1499px]:z-30 max-[1499px]:h-auto max-[1499px]:shadow-[-6px_0_18px_rgb(31_42_55/22%)]"
    >
      <header className="flex h-[37px] shrink-0 items-center border-b border-rule px-3">
        <h2 className="font-semibold">Talk</h2>
        <button aria-label="Close the talk" className="ml-auto rounded p-1 hover:bg-paper" onClick={onClose}>
          <X className="size-4" aria-hidden />
        </button>
      </header>
      <div
        ref={list}
        className="min-h-0 flex-1 overflow-y-auto px-3 py-2"
        tabIndex={0}
        role="region"
        aria-label="What was said"
      >
        {hasNextPage && (
          <button
            className="mb-2 text-[12.5px] text-slate underline"
            disabled={isFetchingNextPage}
            onClick={() => void fetchNextPage()}
          >
            Earlier
          </button>
        )}
        {error && !messages && <p className="text-rubric-ink">{error.message}</p>}
        {messages?.length === 0 && (
          <p className="text-[13px] text-ink-2">
            Nothing was said yet. What you say here is for everyone who has this manuscript, and stays with it.
          </p>
        )}
        <ol>
          {messages?.map((m, i) => (
            <Message key={m.id} message={m} goesOn={goesOn(m, messages[i - 1])} onFollow={() => void follow(m)} />
          ))}
        </ol>
      </div>
      {manuscript.role !== 'reader' && <Saying />}
    </aside>
  );
}

function Message(props: { message: TalkMessage; goesOn: boolean; onFollow: () => void }) {
  const { message, goesOn: isOn, onFollow } = props;
  const { manuscript, person: me } = useRoom();
  const takingBack = useMutation({
    mutationFn: () => call('DELETE', `/api/manuscripts/${manuscript.id}/talk/${message.id}`),
  });
  const mayTakeBack = message.person?.id === me.id || manuscript.role === 'owner';
  return (
    <li data-message={message.id} className={isOn ? 'mt-0.5' : 'mt-2.5'}>
      {!isOn && (
        <div className="flex items-center gap-1.5 text-[12px]">
          {message.person && <Initials person={message.person} small />}
          <span className="truncate font-medium">{message.person?.name ?? 'Someone who left'}</span>
          <span className="ml-auto shrink-0 text-ink-2">{moment(message.at)}</span>
        </div>
      )}
      <div className="group flex items-start gap-1 pl-[26px]">
        <div className="min-w-0 flex-1">
          {message.text && <Words text={message.text} people={manuscript.people} />}
          {message.link && <LinkTo link={message.link} onFollow={onFollow} />}
        </div>
        {mayTakeBack && (
          <MoreMenu
            of="this message"
            className="opacity-0 group-hover:opacity-100 focus-visible:opacity-100 data-[state=open]:opacity-100"
          >
            <MenuItem isGrave onSelect={() => takingBack.mutate()}>
              Take it back
            </MenuItem>
          </MoreMenu>
        )}
      </div>
      {takingBack.error && <p className="pl-[26px] text-[12.5px] text-rubric-ink">{takingBack.error.message}</p>}
    </li>
  );
}

function LinkTo({ link, onFollow }: { link: TalkLink; onFollow: () => void }) {
  const { manuscript } = useRoom();
  const to = addressOfLink(manuscript.id, link);
  const name = nameOfLink(link);
  const look = 'mt-0.5 block border-l-2 border-slate pl-1.5 text-[12.5px] [overflow-wrap:anywhere]';
  return to ? (
    <Link
      className={`${look} text-slate hover:underline`}
      to={to}
      onClick={(event) => {
        if (event.ctrlKey || event.metaKey || event.shiftKey) return;
        event.preventDefault();
        onFollow();
      }}
    >
      {name}
    </Link>
  ) : (
    <span className={`${look} text-ink-2 line-through`}>{name}</span>
  );
}

/** Where the next message is written, and what it leads to. */
function Saying() {
  const { manuscript, memory } = useRoom();
  const [text, setText] = useState('');
  const [link, setLink] = useState<Wish | null>(null);
  /** Why what was chosen can't be led to. */
  const [missing, setMissing] = useState('');
  const leadTo = (wish: Wish | null) => {
    link?.at?.release();
    setMissing('');
    setLink(wish);
  };
  const { data: sources } = useQuery(sourcesQuery(manuscript.id));
  const { data: chronicle } = useInfiniteQuery(chronicleQuery(manuscript.id, everything));
  const saying = useMutation({
    mutationFn: async () =>
      post<number>(`/api/manuscripts/${manuscript.id}/talk`, {
        text,
        link: link && {
          kind: link.kind,
          target: link.target,
          file: link.at?.file ?? 0,
          ...((await link.at?.stored()) ?? nowhere),
        },
      }),
    onSuccess: () => {
      setText('');
      leadTo(null);
    },
  });
  const say = (event?: FormEvent) => {
    event?.preventDefault();
    if ((text.trim() || link) && !saying.isPending) saying.mutate();
  };
  const here = (kind: Pointing['kind']) => {
    const place = actionsOf(memory).point?.(kind);
    if (place) leadTo(asWish(place));
    else
      setMissing(
        kind === 'page'
          ? 'The pages aren’t there yet; choose it again in a moment.'
          : 'The text isn’t there yet; choose it again in a moment.',
      );
  };
  const to = (kind: string, target: string, name: string) => leadTo({ kind, target, name, at: null });
  const pins = chronicle?.pages[0]?.pins ?? [];
  const choose = (value: string) => {
    const [kind, ...rest] = value.split(' ');
    const target = rest.join(' ');
    if (kind === 'passage' || kind === 'page') here(kind);
    else if (kind === 'pin') to(kind, target, `◆ ${pins.find((p) => String(p.id) === target)?.name ?? ''}`);
    else if (kind === 'source') to(kind, target, `the source ${target}`);
  };
  const canPoint = actionsOf(memory).point !== undefined;
  return (
    <form className="shrink-0 border-t border-rule p-2" onSubmit={say}>
      {link && (
        <p className="mb-1 flex items-start gap-1 rounded bg-note px-1.5 py-0.5 text-[12.5px]">
          <span className="line-clamp-2 min-w-0 flex-1 [overflow-wrap:anywhere]">{link.name}</span>
          <button type="button" aria-label="Without this link" className="rounded p-0.5" onClick={() => leadTo(null)}>
            <X className="size-3.5" aria-hidden />
          </button>
        </p>
      )}
      <textarea
        aria-label="What you say"
        placeholder="Say something; @ and a name tells someone"
        rows={2}
        className="field py-1 text-[13px]"
        value={text}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === 'Enter' && !e.shiftKey && !e.nativeEvent.isComposing) {
            e.preventDefault();
            say();
          }
        }}
      />
      {missing && (
        <p role="status" className="text-[12.5px] text-slate">
          {missing}
        </p>
      )}
      {saying.error && (
        <p role="alert" className="text-[12.5px] text-rubric-ink">
          {saying.error.message}
        </p>
      )}
      <div className="mt-1 flex items-center gap-1.5">
        <select
          aria-label="Lead to"
          className="field w-auto min-w-0 flex-1 py-0.5 text-[12.5px]"
          value=""
          onChange={(e) => choose(e.target.value)}
        >
          <option value="">Lead to …</option>
          {canPoint && (
            <>
              <option value="passage">the chosen words, or the line</option>
              <option value="page">the page in view</option>
            </>
          )}
          <optgroup label="Pins">
            {pins.map((p) => (
              <option key={p.id} value={`pin ${p.id}`}>
                {p.name}
              </option>
            ))}
          </optgroup>
          <optgroup label="Sources">
            {sources?.rows.map((s) => (
              <option key={s.key} value={`source ${s.key}`}>
                {s.key}
              </option>
            ))}
          </optgroup>
        </select>
        <button className="button button-main px-2.5 py-0.5" disabled={(!text.trim() && !link) || saying.isPending}>
          Say it
        </button>
      </div>
    </form>
  );
}
