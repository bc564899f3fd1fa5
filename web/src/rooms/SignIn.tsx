import { useState } from 'react';
import { post, type Person } from '../api/client';

/** Signing in. In demo mode each demo person signs in with a click. */
export function SignIn({ people, onSignedIn }: { people: Person[]; onSignedIn: (person: Person) => void }) {
  const [problem, setProblem] = useState('');
  const enter = (person: Person) =>
    post<Person>('/api/session', { person: person.id }).then(onSignedIn, (e: Error) => setProblem(e.message));
  return (
    <main className="mx-auto flex min-h-full max-w-md flex-col justify-center gap-5 p-6">
      <div className="flex items-center gap-3">
        <img src="/folio.svg" alt="" className="size-10" />
        <h1 className="font-serif text-4xl">Young Folio</h1>
      </div>
      <p className="text-ink-2">Write a structured manuscript together, and see the typeset pages follow.</p>
      {people.length > 0 ? (
        <section aria-label="Demo people" className="flex flex-col gap-2">
          <h2 className="font-medium">Come in as one of the demo people</h2>
          {people.map((p) => (
            <button key={p.id} className="button justify-start py-2" onClick={() => enter(p)}>
              <span className="size-3 rounded-full" style={{ background: p.colour }} />
              {p.name}
            </button>
          ))}
        </section>
      ) : (
        <p>There are no accounts here yet. Start the application with its demo data to look around.</p>
      )}
      {problem && (
        <p role="alert" className="text-rubric">
          {problem}
        </p>
      )}
    </main>
  );
}
