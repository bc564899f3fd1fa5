import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useCallback, useEffect, useState } from 'react';
import { BrowserRouter, Navigate, Route, Routes, useLocation } from 'react-router';
import { SignIn } from './account/SignIn';
import { onSignedOut, type Person, type Session } from './api/client';
import { queryClient, sessionQuery } from './api/queries';
import { loadFrame } from './rooms/ahead';
import { RoomBoundary } from './rooms/RoomBoundary';
import { home, rooms } from './rooms/rooms';
import { useLighting } from './ui/light';
import { KeptFor } from './ui/useKept';
import { Waiting } from './ui/Waiting';

const Shelf = lazy(() => import('./shelf/Shelf'));
const Outbox = lazy(() => import('./account/Outbox'));
const Join = lazy(() => import('./people/Join'));
const RoomFrame = lazy(loadFrame);

/** The application: signing in, the shelf, and the rooms of a manuscript. */
export function App() {
  const { data: session, failureReason } = useQuery(sessionQuery);
  const [wasOut, setWasOut] = useState(false);
  const reload = useCallback(async () => {
    await queryClient.fetchQuery({ ...sessionQuery, staleTime: 0 });
  }, []);
  const isIn = !!session?.person;
  useEffect(() => {
    if (isIn) setWasOut(false);
  }, [isIn]);
  // What isn't stored yet stays in the browser, and goes out after signing in again.
  useEffect(
    () =>
      onSignedOut(() => {
        setWasOut((was) => was || isIn);
        void queryClient.invalidateQueries({ queryKey: sessionQuery.queryKey });
      }),
    [isIn],
  );
  if (!session) return <Waiting what="The application" failure={failureReason} />;
  if (!session.person) return <SignIn people={session.demoPeople} wasOut={wasOut} onSignedIn={reload} />;
  return (
    <KeptFor key={session.person.id} value={session.person.id}>
      <BrowserRouter>
        <Places session={session} person={session.person} onChanged={reload} />
      </BrowserRouter>
    </KeptFor>
  );
}

function Places(props: { session: Session; person: Person; onChanged: () => Promise<void> }) {
  useLighting();
  const { session, person, onChanged } = props;
  const { pathname } = useLocation();
  return (
    <RoomBoundary place={pathname.split('/').slice(0, 3).join('/')}>
      <Suspense fallback={<Waiting what="The page" failure={null} />}>
        <Routes>
          <Route path="/" element={<Shelf session={session} person={person} onChanged={onChanged} />} />
          <Route path="/outbox" element={<Outbox />} />
          <Route path="/join/:secret" element={<Join person={person} />} />
          <Route path="/m/:id" element={<RoomFrame person={person} />}>
            {rooms.map(({ path, Page }) => (
              <Route key={path} path={path} element={<Page />} />
            ))}
            <Route index element={<Navigate to={home.path} replace />} />
          </Route>
          <Route path="*" element={<Navigate to="/" replace />} />
        </Routes>
      </Suspense>
    </RoomBoundary>
  );
}
