import { useMutation } from '@tanstack/react-query';
import { Check, RotateCcw, X } from 'lucide-react';
import { useState, type FormEvent, type ReactNode } from 'react';
import { call, post, type Note, type Person } from '../api/client';
import { useRoom } from '../rooms/roomContext';
import { Initials } from '../ui/Brand';
import { MenuItem, MoreMenu } from '../ui/Menu';
import { moment } from '../ui/time';
import { useDeciding } from './Decisions';
import { brief, isStale } from './notes';
import { Words } from './Words';

/** A note with what was answered. Chosen, it takes an answer, and can be settled. */
export function NoteThread(props: {
  note: Note;
  isChosen: boolean;
  mayNote: boolean;
  /** Picks it, to be decided together with others; null: it can’t be. */
  pick?: { is: boolean; set: (is: boolean) => void } | null;
  onChoose: () => void;
  /** Shows its passage, where choosing it doesn’t; null: it does. */
  onShow: (() => void) | null;
}) {
  const { note, isChosen, mayNote, pick, onChoose, onShow } = props;
  const { manuscript, person: me, canWrite } = useRoom();
  const { decide, isBusy, left, error } = useDeciding();
  const [answer, setAnswer] = useState('');
  const [isRewriting, setIsRewriting] = useState(false);
  const path = `/api/manuscripts/${manuscript.id}/notes/${note.id}`;
  const acting = useMutation({ mutationFn: (what: () => Promise<unknown>) => what() });
  const reply = (event: FormEvent) => {
    event.preventDefault();
    const text = answer.trim();
    if (text) acting.mutate(() => post(`${path}/replies`, { text }), { onSuccess: () => setAnswer('') });
  };
  // What stands in the field goes along as the answer.
  const take = (isTaken: boolean) => () =>
    decide(
      { suggestions: [note.id], isTaken, answer: answer.trim(), anyway: isTaken && isStale(note) },
      { onSuccess: ({ decided }) => decided.length > 0 && setAnswer('') },
    );
  const isSettled = note.settledBy !== null;
  const isOwner = manuscript.role === 'owner';
  const isMine = note.person?.id === me.id;
  return (
    <li
      data-thread={note.id}
      className={`border-b border-rule/70 px-2.5 py-1.5 ${isChosen ? 'bg-leaf shadow-[inset_3px_0_0_var(--color-ochre)]' : 'hover:bg-page/50'}`}
    >
      <div className="flex items-start gap-1.5">
        {pick && (
          <input
            type="checkbox"
            className="mt-1 shrink-0"
            aria-label={`Choose the suggestion ${brief(note.proposal ?? '', 40) || `without “${brief(note.words, 40)}”`}`}
            checked={pick.is}
            onChange={(e) => pick.set(e.target.checked)}
          />
        )}
        <button className="block min-w-0 flex-1 text-left" aria-expanded={isChosen} onClick={onChoose}>
          <Said person={note.person} at={note.at}>
            {isSettled && (
              <span
                className={`chip ${note.isTaken === false ? 'bg-tint text-tint-ink' : 'bg-moss-tint text-moss-ink'}`}
              >
                {note.isTaken === null ? 'settled' : note.isTaken ? 'taken' : 'declined'}
              </span>
            )}
          </Said>
          {note.proposal === null ? (
            <span
              className={`block border-l-2 border-ochre pl-1.5 text-[12px] text-ink-2 ${note.isGone ? 'line-through' : 'italic'}`}
            >
              {brief(note.words)}
            </span>
          ) : (
            <Proposed note={note} isWhole={isChosen} />
          )}
          {note.isGone && note.isTaken !== true && (
            <span className="block text-[12px] text-ochre-ink">▲ The passage is gone; that is what it read.</span>
          )}
          {!isRewriting && note.text && <Words text={note.text} people={manuscript.people} />}
        </button>
      </div>
      {isRewriting && (
        <Rewriting
          text={note.text}
          onDone={() => setIsRewriting(false)}
          onSave={(text) => call('PATCH', path, { text })}
        />
      )}
      {isChosen && onShow && !note.isGone && (
        <button className="text-[12.5px] text-slate underline" onClick={onShow}>
          Show the passage
        </button>
      )}
      {(isChosen ? note.replies : []).map((r) => (
        <div key={r.id} className="mt-1 border-l border-rule pl-2">
          <Said person={r.person} at={r.at} />
          <Words text={r.text} people={manuscript.people} />
        </div>
      ))}
      {!isChosen && note.replies.length > 0 && (
        <p className="text-[12px] text-ink-2">
          {note.replies.length} {note.replies.length === 1 ? 'answer' : 'answers'}
        </p>
      )}
      {isChosen && mayNote && !isRewriting && (
        <form className="mt-1.5" onSubmit={reply}>
          <textarea
            aria-label="Answer"
            placeholder="Answer; @ and a name tells someone"
            rows={2}
            className="field py-1 text-[12.5px]"
            value={answer}
            onChange={(e) => setAnswer(e.target.value)}
            onKeyDown={(e) => e.key === 'Enter' && (e.ctrlKey || e.metaKey) && reply(e)}
          />
          <div className="mt-1 flex flex-wrap gap-1.5">
            {answer.trim() && <button className="button button-main px-2 py-0.5">Answer</button>}
            {note.proposal !== null && !isSettled && canWrite && (
              <>
                <button
                  type="button"
                  className="button px-2 py-0.5"
                  disabled={isBusy || note.isGone}
                  onClick={take(true)}
                >
                  <Check className="size-3.5" aria-hidden />
                  {isStale(note) && !note.isGone ? 'Take all the same' : 'Take'}
                </button>
                <button type="button" className="button px-2 py-0.5" disabled={isBusy} onClick={take(false)}>
                  <X className="size-3.5" aria-hidden />
                  Decline
                </button>
              </>
            )}
            {(note.proposal === null || (isSettled && !note.isTaken && canWrite)) && (
              <button
                type="button"
                className="button px-2 py-0.5"
                onClick={() => acting.mutate(() => post(`${path}/settled`, { isSettled: !isSettled }))}
              >
                {isSettled ? (
                  <RotateCcw className="size-3.5" aria-hidden />
                ) : (
                  <Check className="size-3.5" aria-hidden />
                )}
                {isSettled ? 'Open again' : 'Settle'}
              </button>
            )}
            {(isMine || isOwner || (canWrite && note.proposal === null && !isSettled)) && (
              <MoreMenu of={note.proposal === null ? 'this note' : 'this suggestion'} className="ml-auto">
                {isMine && (
                  <MenuItem onSelect={() => setIsRewriting(true)}>
                    {note.proposal === null ? 'Change its words …' : 'Say why …'}
                  </MenuItem>
                )}
                {canWrite && note.proposal === null && !isSettled && !note.isGone && (
                  <MenuItem onSelect={() => acting.mutate(() => post(`${path}/typed`, {}))}>Into the text</MenuItem>
                )}
                {(isOwner || (note.replies.length === 0 && note.isTaken === null)) && (
                  <MenuItem isGrave onSelect={() => acting.mutate(() => call('DELETE', path))}>
                    {note.proposal !== null && !isSettled ? 'Take it back' : 'Delete it'}
                  </MenuItem>
                )}
              </MoreMenu>
            )}
          </div>
        </form>
      )}
      {[acting.error?.message, error?.message, ...left.map((l) => l.why)].filter(Boolean).map((why) => (
        <p key={why} role="alert" className="text-[12.5px] text-rubric-ink">
          {why}
        </p>
      ))}
    </li>
  );
}

function Said({ person, at, children }: { person: Person | null; at: string; children?: ReactNode }) {
  return (
    <span className="flex items-center gap-1.5 text-[12px]">
      {person && <Initials person={person} small />}
      <span className="truncate font-medium">{person?.name ?? 'Someone'}</span>
      <span className="ml-auto shrink-0 text-ink-2">{moment(at)}</span>
      {children}
    </span>
  );
}

/** What a suggestion changes: the words as they are, and those for them. */
function Proposed({ note, isWhole }: { note: Note; isWhole: boolean }) {
  const most = isWhole ? 2000 : 90;
  const isOpen = note.settledBy === null;
  return (
    <span
      className="block border-l-2 pl-1.5 text-[12.5px] leading-snug [overflow-wrap:anywhere]"
      style={{ borderColor: note.person?.colour }}
    >
      <del className="text-ink-2 decoration-rubric/70">{brief(note.instead ?? note.words, most)}</del>{' '}
      {note.proposal?.trim() ? (
        <ins className="font-medium no-underline">{brief(note.proposal, most)}</ins>
      ) : (
        <span className="text-ink-2">goes</span>
      )}
      {isOpen && isStale(note) && !note.isGone && (
        <span className="block text-[12px] text-ochre-ink">▲ The words were changed since: “{brief(note.words)}”.</span>
      )}
    </span>
  );
}

function Rewriting(props: { text: string; onSave: (text: string) => Promise<unknown>; onDone: () => void }) {
  const [text, setText] = useState(props.text);
  const saving = useMutation({ mutationFn: () => props.onSave(text), onSuccess: props.onDone });
  return (
    <form
      className="mt-1"
      onSubmit={(e) => {
        e.preventDefault();
        saving.mutate();
      }}
    >
      <textarea
        aria-label="The note"
        rows={3}
        className="field py-1 text-[12.5px]"
        value={text}
        onChange={(e) => setText(e.target.value)}
        autoFocus
      />
      {saving.error && <p className="text-[12.5px] text-rubric-ink">{saving.error.message}</p>}
      <div className="mt-1 flex gap-1.5">
        <button className="button button-main px-2 py-0.5" disabled={!text.trim() || saving.isPending}>
          Save
        </button>
        <button type="button" className="button px-2 py-0.5" onClick={props.onDone}>
          Cancel
        </button>
      </div>
    </form>
  );
}
