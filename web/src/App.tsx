import { useCallback, useEffect, useState } from 'react';
import { BrowserRouter, Navigate, Route, Routes } from 'react-router';
import { onSignedOut, session as fetchSession, type Session } from './api/client';
import { Join } from './rooms/Join';
import { Outbox } from './rooms/Outbox';
import { Shelf } from './rooms/Shelf';
import { SignIn } from './rooms/SignIn';
import { SourcesRoom } from './sources/SourcesRoom';
import { WriteRoom } from './write/WriteRoom';

/** The application: signing in, the shelf, and the rooms of a manuscript. */
export function App() {
  const [session, setSession] = useState<Session | null>(null);
  const [failed, setFailed] = useState('');
  const load = useCallback(() => void fetchSession().then(setSession, (e: Error) => setFailed(e.message)), []);
  useEffect(load, [load]);
  // What isn't stored yet stays in the browser, and goes out after signing in again.
  useEffect(() => onSignedOut(load), [load]);
  if (failed) return <p className="p-10 text-rubric">{failed}</p>;
  if (!session) return null;
  const person = session.person;
  if (!person) return <SignIn people={session.demoPeople} onSignedIn={load} />;
  return (
    <BrowserRouter>
      <Routes>
        <Route path="/" element={<Shelf session={session} onChanged={load} />} />
        <Route path="/outbox" element={<Outbox />} />
        <Route path="/join/:secret" element={<Join person={person} />} />
        <Route path="/m/:id/write" element={<WriteRoom person={person} />} />
        <Route path="/m/:id/sources" element={<SourcesRoom person={person} />} />
        <Route path="*" element={<Navigate to="/" replace />} />
      </Routes>
    </BrowserRouter>
  );
}
