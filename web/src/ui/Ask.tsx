import { AlertDialog } from 'radix-ui';
import { useState, type FormEvent, type ReactNode } from 'react';
import { Panel } from './Panel';
import { useReturnFocus } from './useReturnFocus';

/** A dialog that asks for one line of text. The action may refuse; its words are then shown and nothing is lost. */
export function AskText(props: {
  title: string;
  label: string;
  initial?: string;
  action: string;
  type?: 'text' | 'date';
  mayBeEmpty?: boolean;
  children?: ReactNode;
  onAnswer: (text: string) => Promise<void>;
  onClose: () => void;
}) {
  const [text, setText] = useState(props.initial ?? '');
  const [problem, setProblem] = useState('');
  const [busy, setBusy] = useState(false);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    setBusy(true);
    props.onAnswer(text).then(props.onClose, (e: Error) => {
      setProblem(e.message);
      setBusy(false);
    });
  };
  return (
    <Panel title={props.title} className="w-[26rem]" onClose={props.onClose}>
      <form onSubmit={submit} className="mt-3 flex flex-col gap-3">
        <label className="flex flex-col gap-1 text-ink-2">
          {props.label}
          <input
            className="field text-ink"
            type={props.type ?? 'text'}
            value={text}
            onChange={(e) => setText(e.target.value)}
            autoFocus
          />
        </label>
        {props.children}
        {problem && (
          <p role="alert" className="text-rubric">
            {problem}
          </p>
        )}
        <div className="flex justify-end gap-2">
          <button type="button" className="button" onClick={props.onClose}>
            Cancel
          </button>
          <button type="submit" className="button button-main" disabled={busy || (!props.mayBeEmpty && !text.trim())}>
            {props.action}
          </button>
        </div>
      </form>
    </Panel>
  );
}

/** A dialog that says what an act takes along, and asks whether to go on. */
export function AskConsent(props: {
  title: string;
  text: string;
  action: string;
  onYes: () => void;
  onClose: () => void;
}) {
  const returnFocus = useReturnFocus();
  return (
    <AlertDialog.Root open onOpenChange={(open) => !open && props.onClose()}>
      <AlertDialog.Portal>
        <AlertDialog.Overlay className="overlay" />
        <AlertDialog.Content className="dialog w-[26rem]" onCloseAutoFocus={returnFocus}>
          <AlertDialog.Title className="font-serif text-xl">{props.title}</AlertDialog.Title>
          <AlertDialog.Description className="mt-2 text-ink-2">{props.text}</AlertDialog.Description>
          <div className="mt-4 flex justify-end gap-2">
            <AlertDialog.Cancel className="button">Cancel</AlertDialog.Cancel>
            <AlertDialog.Action className="button button-main" onClick={props.onYes}>
              {props.action}
            </AlertDialog.Action>
          </div>
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  );
}
