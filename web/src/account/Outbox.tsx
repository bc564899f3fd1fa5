import { useQuery } from '@tanstack/react-query';
import { Mail } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import { outboxQuery } from '../api/queries';
import { Brand } from '../ui/Brand';
import { moment } from '../ui/time';

/** The post stand-in: letters that came to this person. */
export default function Outbox() {
  const { data: box, error } = useQuery(outboxQuery);
  const [open, setOpen] = useState(0);
  const problem = error?.message;
  useEffect(() => {
    document.title = 'Outbox · Young Folio';
  }, []);
  const letters = box?.letters;
  const letter = letters?.find((l) => l.id === open) ?? letters?.[0];
  return (
    <div className="flex h-full flex-col">
      <header className="flex h-[52px] shrink-0 items-center gap-4 bg-top px-4 text-white">
        <Brand />
        <Link to="/" className="ml-auto text-ribbon hover:text-white">
          Back to your shelf
        </Link>
      </header>
      <main className="mx-auto flex min-h-0 w-full max-w-[1160px] flex-1 flex-col px-4 pt-7 pb-8">
        <h1 className="font-serif text-[36px] leading-tight">Outbox</h1>
        <p className="text-ink-2">
          No letter leaves this computer: what is sent to you waits here, and its links work.
        </p>
        {problem && (
          <p role="alert" className="mt-3 text-rubric">
            {problem}
          </p>
        )}
        {box && !box.isVerified && (
          <p className="mt-8 max-w-[60ch] text-ink-2">
            Nobody has checked yet that your address is yours, so letters to it aren’t shown. Ask whoever keeps this
            server to verify it. Invitation links that you were given work all the same.
          </p>
        )}
        {box?.isVerified && letters?.length === 0 && (
          <p className="mt-8 text-ink-2">Nothing yet. Invitations and notices that are sent to you lie here.</p>
        )}
        {letter && (
          <div className="mt-6 flex min-h-0 flex-1 flex-col overflow-hidden min-[720px]:flex-row rounded-md bg-leaf shadow-[0_1px_6px_rgb(31_42_55/18%)]">
            <ul
              aria-label="Letters"
              className="max-h-[40%] shrink-0 overflow-y-auto border-r border-rule min-[720px]:max-h-none min-[720px]:w-[380px]"
            >
              {letters!.map((l) => (
                <li key={l.id}>
                  <button
                    aria-current={l.id === letter.id}
                    className={`block w-full border-b border-rule px-4 py-2.5 text-left ${l.id === letter.id ? 'bg-paper' : 'hover:bg-paper/60'}`}
                    onClick={() => setOpen(l.id)}
                  >
                    <span className="flex justify-between gap-3 text-[12.5px] text-ink-2">
                      <span className="truncate">{l.to}</span>
                      <span className="shrink-0">{moment(l.at)}</span>
                    </span>
                    <span className="block truncate font-medium">{l.subject}</span>
                  </button>
                </li>
              ))}
            </ul>
            <article className="flex-1 overflow-y-auto p-7">
              <p className="flex items-center gap-2 text-ink-2">
                <Mail className="size-4" /> to {letter.to}, {moment(letter.at)}
              </p>
              <h2 className="mt-2 font-serif text-[24px] leading-snug">{letter.subject}</h2>
              <p className="mt-4 max-w-[60ch] font-serif text-[17px] leading-relaxed whitespace-pre-line">
                {letter.body}
              </p>
              {letter.files.length > 0 && (
                <ul aria-label="Files with this letter" className="mt-4">
                  {letter.files.map((f) => (
                    <li key={f.id}>
                      <a
                        className="text-slate underline"
                        href={`/api/outbox/${letter.id}/files/${f.id}`}
                        download={f.name}
                      >
                        {f.name}
                      </a>
                    </li>
                  ))}
                </ul>
              )}
              {letter.link && (
                <Link to={letter.link} className="mt-4 block font-mono text-[12.5px] break-all text-slate underline">
                  {location.origin + letter.link}
                </Link>
              )}
            </article>
          </div>
        )}
      </main>
    </div>
  );
}
