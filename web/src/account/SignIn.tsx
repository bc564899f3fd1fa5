import { useState, type FormEvent } from 'react';
import { post, type Person } from '../api/client';
import { TextField } from '../ui/TextField';

/** Signing in and up. In demo mode each demo person signs in with a click. */
export function SignIn(props: { people: Person[]; wasOut: boolean; onSignedIn: () => Promise<void> }) {
  const { people, wasOut, onSignedIn } = props;
  const [isNew, setIsNew] = useState(false);
  const [name, setName] = useState('');
  const [email, setEmail] = useState('');
  const [password, setPassword] = useState('');
  const [problem, setProblem] = useState('');
  const [busy, setBusy] = useState(false);
  const enter = (path: string, body: unknown) => {
    setBusy(true);
    post<Person>(path, body)
      .then(onSignedIn)
      .catch((e: Error) => {
        setProblem(e.message);
        setBusy(false);
      });
  };
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (isNew) enter('/api/account', { name, email, password });
    else enter('/api/session', { email, password });
  };
  return (
    <main className="mx-auto flex min-h-full max-w-[860px] flex-col justify-center p-6">
      <div className="flex flex-col overflow-hidden min-[720px]:flex-row rounded-md shadow-[0_1px_8px_rgb(31_42_55/20%)]">
        <section className="flex flex-1 flex-col justify-between bg-top p-8 text-white">
          <div>
            <div className="flex items-center gap-3">
              <img src="/folio.svg" alt="" className="size-9" />
              <h1 className="font-serif text-[32px]">Young Folio</h1>
            </div>
            <p className="mt-4 max-w-[28ch] font-serif text-[19px] leading-snug text-ribbon">
              Write a structured manuscript together, and see the typeset pages follow.
            </p>
          </div>
          {people.length > 0 && (
            <div role="group" aria-label="Demo people" className="mt-10 flex flex-col gap-1.5">
              <p className="text-ribbon-2">Look around as one of the demo people:</p>
              {people.map((p) => (
                <button
                  key={p.id}
                  disabled={busy}
                  className="flex items-center gap-2.5 rounded border border-white/20 px-3 py-1.5 text-left hover:bg-white/10"
                  onClick={() => enter('/api/session', { person: p.id })}
                >
                  <span className="size-3 rounded-full ring-1 ring-white/60" style={{ background: p.colour }} />
                  {p.name}
                </button>
              ))}
            </div>
          )}
        </section>
        <section aria-label={isNew ? 'A new account' : 'Sign in'} className="bg-leaf p-8 min-[720px]:w-[400px]">
          <h2 className="font-serif text-2xl">{isNew ? 'A new account' : 'Sign in'}</h2>
          {wasOut && (
            <p role="status" className="mt-3 rounded border border-rule bg-note px-3 py-2">
              You are signed out. Sign in, and you are back at the same place; what you typed waits there.
            </p>
          )}
          <form onSubmit={submit} className="mt-4 flex flex-col gap-3">
            {isNew && <TextField label="Your name" autoComplete="name" value={name} onText={setName} />}
            <TextField label="E-mail address" type="email" autoComplete="email" value={email} onText={setEmail} />
            <TextField
              label={isNew ? 'A password of at least 10 characters' : 'Password'}
              type="password"
              autoComplete={isNew ? 'new-password' : 'current-password'}
              value={password}
              onText={setPassword}
            />
            {problem && (
              <p role="alert" className="text-rubric">
                {problem}
              </p>
            )}
            <button
              className="button button-main justify-center py-2"
              disabled={busy || !email || !password || (isNew && !name)}
            >
              {isNew ? 'Make the account' : 'Sign in'}
            </button>
          </form>
          <button
            className="mt-4 text-slate underline decoration-slate/40 hover:decoration-slate"
            onClick={() => {
              setIsNew(!isNew);
              setProblem('');
            }}
          >
            {isNew ? 'I have an account' : 'I have no account yet'}
          </button>
          {!isNew && (
            <p className="mt-2 text-[13px] text-ink-2">
              Password forgotten? Whoever keeps this server can give you another.
            </p>
          )}
        </section>
      </div>
    </main>
  );
}
