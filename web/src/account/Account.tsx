import { useState, type FormEvent } from 'react';
import { call, post, type Person, type Session } from '../api/client';
import { Initials } from '../ui/Brand';
import { TextField } from '../ui/TextField';
import { Panel } from '../ui/Panel';

/** A person's own account: name, colour, password. */
export function Account(props: { session: Session; onChanged: () => Promise<void>; onClose: () => void }) {
  const person = props.session.person!;
  const [name, setName] = useState(person.name);
  const [colour, setColour] = useState(person.colour);
  const [said, setSaid] = useState<{ text: string; isProblem: boolean } | null>(null);
  const tell = (what: Promise<unknown>, done: string) =>
    what.then(
      () => setSaid({ text: done, isProblem: false }),
      (e: Error) => setSaid({ text: e.message, isProblem: true }),
    );
  const save = (event: FormEvent) => {
    event.preventDefault();
    void tell(call<Person>('PUT', '/api/account', { name, colour }).then(props.onChanged), 'Saved.');
  };
  return (
    <Panel title="Your account" className="w-[30rem]" cross onClose={props.onClose}>
      <p className="text-ink-2">{props.session.email}</p>
      <form onSubmit={save} className="mt-3 flex flex-col gap-3">
        <TextField label="Name as others see it" value={name} onText={setName} />
        <fieldset>
          <legend className="mb-1 text-ink-2">Your colour, the same everywhere</legend>
          <div className="flex flex-wrap items-center gap-2">
            {props.session.colours.map((c, i) => (
              <label key={c} className="relative">
                <input
                  type="radio"
                  name="colour"
                  aria-label={`Colour ${i + 1}`}
                  className="peer sr-only"
                  checked={colour === c}
                  onChange={() => setColour(c)}
                />
                <span
                  className="block size-6 rounded-full peer-checked:ring-2 peer-checked:ring-ink peer-checked:ring-offset-2 peer-focus-visible:outline-2"
                  style={{ background: c }}
                />
              </label>
            ))}
            <span className="ml-2">
              <Initials person={{ ...person, name: name || person.name, colour }} small />
            </span>
          </div>
        </fieldset>
        <button className="button button-main self-end">Save</button>
      </form>
      <label className="mt-4 flex items-start gap-2 border-t border-rule pt-3">
        <input
          type="checkbox"
          className="mt-1 accent-slate"
          checked={props.session.wantsLetter}
          onChange={(e) => {
            const wants = e.target.checked;
            const done = wants ? 'From tomorrow on you get it, when something came in.' : 'You get it no longer.';
            void tell(call('PUT', '/api/account/letter', { wants }).then(props.onChanged), done);
          }}
        />
        <span>
          A letter a day with what waits for you
          <span className="block text-[12.5px] text-ink-2">
            Changes by others, notes to you, suggestions and messages; none where nothing came in.
          </span>
        </span>
      </label>
      {/* Demo people come in with a click and have no password. */}
      {!props.session.demoPeople.some((p) => p.id === person.id) && <Password tell={tell} />}
      {said && (
        <p
          role={said.isProblem ? 'alert' : 'status'}
          className={`mt-3 ${said.isProblem ? 'text-rubric' : 'text-moss-ink'}`}
        >
          {said.text}
        </p>
      )}
    </Panel>
  );
}

function Password({ tell }: { tell: (what: Promise<unknown>, done: string) => Promise<void> }) {
  const [old, setOld] = useState('');
  const [fresh, setFresh] = useState('');
  const change = (event: FormEvent) => {
    event.preventDefault();
    void tell(
      post('/api/account/password', { old, new: fresh }).then(() => {
        setOld('');
        setFresh('');
      }),
      'Your password is changed. Elsewhere you are signed out.',
    );
  };
  return (
    <form onSubmit={change} className="mt-4 flex flex-col gap-3 border-t border-rule pt-3">
      <TextField label="Present password" type="password" autoComplete="current-password" value={old} onText={setOld} />
      <TextField
        label="New password, at least 10 characters"
        type="password"
        autoComplete="new-password"
        value={fresh}
        onText={setFresh}
      />
      <button className="button self-end" disabled={!old || !fresh}>
        Change the password
      </button>
    </form>
  );
}
