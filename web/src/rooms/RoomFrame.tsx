import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useEffect, useMemo, useState } from 'react';
import { Outlet, useLocation, useParams } from 'react-router';
import { Refusal, type Manuscript, type Person } from '../api/client';
import { manuscriptQuery } from '../api/queries';
import type { Live } from '../live/live';
import { dropUnsent } from '../live/unsentStore';
import { forget, type Kept } from '../offline/kept';
import { OutOfReach } from '../offline/OutOfReach';
import { showKept } from '../offline/showKept';
import { useCopying } from '../offline/useCopying';
import { useHearsay, useLive, type LiveState } from '../live/useLive';
import { DropZone } from '../ui/DropZone';
import { Unavailable } from '../ui/Unavailable';
import { Waiting } from '../ui/Waiting';
import { usualLooks } from '../write/looks';
import { TextDesk } from '../write/textDesk';
import { LostWordsDialog } from './LostWordsDialog';
import { actionsOf } from './actions';
import { ArrivalStrip } from './ArrivalStrip';
import { ByName } from './ByName';
import { RoomBoundary } from './RoomBoundary';
import { addressOf, RoomContext, RoomMemory, type RoomState } from './roomContext';
import { RoomHeader } from './RoomHeader';
import { fetchLater } from './rooms';
import { UploadStrip } from './UploadStrip';
import { useUploads } from './useUploads';

/** Its code is fetched when somebody talks. */
const TalkPanel = lazy(async () => ({ default: (await import('../talk/TalkPanel')).TalkPanel }));

/** A manuscript: what its rooms share, its top edge, and the room that the address names. */
export default function RoomFrame({ person }: { person: Person }) {
  const id = Number(useParams().id);
  // At another manuscript nothing of this one is left.
  return <Frame key={id} id={id} person={person} />;
}

function Frame({ id, person }: { id: number; person: Person }) {
  const { data: manuscript, error, failureReason } = useQuery(manuscriptQuery(id));
  const state = useLive(id, person.id);
  useHearsay(state.live, id);
  useEffect(() => void showKept(id), [id]);
  useEffect(fetchLater, []);
  const isNoMore = state.gone || (error instanceof Refusal && [403, 404].includes(error.status));
  useEffect(() => {
    if (isNoMore) void forget(id);
  }, [isNoMore, id]);
  if (state.gone) return <Unavailable why="This manuscript is no longer on your shelf." />;
  if (!manuscript || isNoMore) {
    return error ? <Unavailable why={error.message} /> : <Waiting what="The manuscript" failure={failureReason} />;
  }
  if (!state.live) return null;
  return <OpenManuscript manuscript={manuscript} person={person} live={state.live} state={state} />;
}

function OpenManuscript(props: { manuscript: Kept<Manuscript>; person: Person; live: Live; state: LiveState }) {
  const { manuscript, person, live, state } = props;
  const { present, connected } = state;
  const canWrite = manuscript.role === 'owner' || manuscript.role === 'author';
  const [memory] = useState(() => new RoomMemory());
  const desk = useDesk(live, manuscript.id, person.id, canWrite);
  useCopying(live, manuscript.id, desk, memory);
  const [talks, setTalks] = useState(false);
  const uploads = useUploads(manuscript.id);
  const upload = uploads.add;
  const location = useLocation();
  const [, , , room] = location.pathname.split('/');
  // A letter leads to the talk; from there on it is open or not like any other time.
  const isAsked = new URLSearchParams(location.search).has('talk');
  const [wasAsked, setWasAsked] = useState(false);
  if (isAsked !== wasAsked) {
    setWasAsked(isAsked);
    if (isAsked) setTalks(true);
  }
  // The ribbon of a room leads back to the file or the source that was open there; a line was gone to already.
  useEffect(() => {
    const search = new URLSearchParams(location.search);
    search.delete('line');
    if (room) memory.set(addressOf(room), search.size > 0 ? `?${search}` : '');
  }, [location, room, memory]);
  const shared = useMemo<RoomState | null>(
    () => desk && { manuscript, person, canWrite, live, present, connected, desk, memory, upload },
    [manuscript, person, canWrite, live, present, connected, desk, memory, upload],
  );
  if (!shared) return null;
  return (
    <RoomContext value={shared}>
      <div className="flex h-full flex-col">
        <RoomHeader room={room ?? ''} talks={talks} onTalk={() => setTalks(!talks)} />
        <ByName />
        <OutOfReach asOf={connected ? undefined : manuscript.asOf} />
        {manuscript.arrival && (
          <ArrivalStrip manuscript={manuscript.id} arrival={manuscript.arrival} canWrite={canWrite} />
        )}
        <UploadStrip uploads={uploads} />
        <div className="flex min-h-0 flex-1">
          <div className="flex min-h-0 min-w-0 flex-1 flex-col">
            <RoomBoundary place={location.pathname}>
              <Suspense fallback={<Waiting what="The room" failure={null} />}>
                <Outlet />
              </Suspense>
            </RoomBoundary>
          </div>
          {talks && (
            <Suspense fallback={null}>
              <TalkPanel onClose={() => setTalks(false)} />
            </Suspense>
          )}
        </div>
        <DropZone
          says={
            canWrite
              ? `Let go to put them among the files of “${manuscript.title}”`
              : 'You may read this manuscript, and put nothing into it'
          }
          onDrop={(files, event) =>
            canWrite && !actionsOf(memory).takeDrop?.(files, event) && upload(files, folderUnder(event))
          }
        />
        {state.lost && (
          <LostWordsDialog
            words={state.lost.words}
            why={state.lost.why}
            onDone={() => {
              const { clientId } = state.lost!;
              state.letGo();
              void dropUnsent(clientId).then(() => desk?.restart(clientId));
            }}
          />
        )}
      </div>
    </RoomContext>
  );
}

// Made in an effect: what is made while rendering might never be closed.
function useDesk(live: Live, manuscript: number, person: number, canWrite: boolean): TextDesk | null {
  const [desk, setDesk] = useState<TextDesk | null>(null);
  useEffect(() => {
    const made = new TextDesk({ live, manuscript, person, canWrite: false, suggests: false, looks: usualLooks });
    setDesk(made);
    return () => made.close();
  }, [live, manuscript, person]);
  useEffect(() => void desk?.allow(canWrite), [desk, canWrite]);
  return desk;
}

/** The folder that something is dropped on. */
const folderUnder = (event: DragEvent) =>
  event.target instanceof Element ? event.target.closest<HTMLElement>('[data-folder]')?.dataset.folder : undefined;
