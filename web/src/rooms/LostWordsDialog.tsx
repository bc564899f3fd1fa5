import { AlertDialog } from 'radix-ui';
import { useState } from 'react';

/** Words that the server doesn't take: they are shown, so that nothing typed is lost without its writer knowing. */
export function LostWordsDialog({ words, why, onDone }: { words: string; why: string; onDone: () => void }) {
  const [copied, setCopied] = useState(false);
  const copy = () =>
    navigator.clipboard.writeText(words).then(
      () => setCopied(true),
      () => undefined,
    );
  return (
    <AlertDialog.Root open>
      <AlertDialog.Portal>
        <AlertDialog.Overlay className="overlay" />
        <AlertDialog.Content className="dialog w-[34rem]">
          <AlertDialog.Title className="font-serif text-xl">These words of yours weren’t taken</AlertDialog.Title>
          <AlertDialog.Description className="mt-1 text-ink-2">{why}</AlertDialog.Description>
          {words ? (
            <textarea
              readOnly
              aria-label="What you typed"
              value={words}
              className="field mt-3 h-40 font-mono text-[12.5px]"
            />
          ) : (
            <p className="mt-3 text-ink-2">You had taken words out; nothing that you typed is lost.</p>
          )}
          <div className="mt-4 flex justify-end gap-2">
            {words && (
              <button className="button" onClick={() => void copy()}>
                {copied ? 'Copied' : 'Copy them'}
              </button>
            )}
            <AlertDialog.Action className="button button-main" onClick={onDone}>
              Go on with the shared text
            </AlertDialog.Action>
          </div>
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  );
}
