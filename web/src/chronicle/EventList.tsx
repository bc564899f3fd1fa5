import { Diamond } from 'lucide-react';
import type { HistoryEvent, Pin } from '../api/client';
import { Initials } from '../ui/Brand';
import { MenuDownload, MenuItem, MoreMenu } from '../ui/Menu';
import { day } from '../ui/time';
import { plural } from '../ui/words';
import { byDays, counted, told } from './events';

const clock = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' });

/** The history, day by day: what was done, where, and how many words came and went. */
export function EventList(props: {
  manuscript: number;
  events: readonly HistoryEvent[];
  pins: readonly Pin[];
  seen: number;
  from: number;
  to: number;
  canWrite: boolean;
  /** What is said of an event in place of how many words came and went. */
  says?: (event: HistoryEvent) => string;
  onEvent: (event: HistoryEvent) => void;
  onPin: (pin: Pin) => void;
  onSetPin: (revision: number) => void;
  onRename: (pin: Pin) => void;
  onUnpin: (pin: Pin) => void;
}) {
  const {
    manuscript,
    events,
    pins,
    seen,
    from,
    to,
    canWrite,
    says = counted,
    onEvent,
    onPin,
    onSetPin,
    onRename,
    onUnpin,
  } = props;
  const firstNew = events.findLast((e) => e.toRevision > seen);
  return (
    <ol aria-label="History">
      {byDays(events, pins).map(({ day: of, lines }) => (
        <li key={of}>
          <h2 className="sticky top-0 z-10 bg-leaf px-3 pt-2 pb-0.5 text-[11px] tracking-wide text-ink-2 uppercase">
            {day(`${of}T12:00:00`)}
          </h2>
          <ol>
            {lines.map(({ event, pin }) =>
              pin ? (
                <li key={`p${pin.id}`} className="flex items-start border-y border-rule bg-note">
                  <button
                    className="flex min-w-0 flex-1 items-start gap-2.5 px-3 py-1.5 text-left"
                    onClick={() => onPin(pin)}
                  >
                    <span className="w-9 shrink-0 font-serif text-[14px] text-ink-2">
                      {clock.format(new Date(pin.at))}
                    </span>
                    <Diamond className="mt-1 ml-1 size-3.5 shrink-0 fill-rubric text-rubric" aria-label="Pin" />
                    <span className="min-w-0 flex-1">
                      <span className="block truncate font-serif text-[15.5px] font-medium">{pin.name}</span>
                      {pin.note && <span className="block text-[12.5px]">{pin.note}</span>}
                      <span className="text-[12px] text-ink-2">
                        {pin.isAutomatic ? 'set by itself' : `pinned by ${pin.person?.name.split(' ')[0] ?? 'someone'}`}{' '}
                        · {pin.pages > 0 && `${plural(pin.pages, 'page')} · `}rev {pin.revision}
                      </span>
                    </span>
                  </button>
                  <MoreMenu of={pin.name} className="mt-1.5 mr-2">
                    <MenuDownload
                      href={`/api/manuscripts/${manuscript}/pins/${pin.id}/pdf?download=${encodeURIComponent(`${pin.name}.pdf`)}`}
                    >
                      Its proof as PDF
                    </MenuDownload>
                    {canWrite && <MenuItem onSelect={() => onRename(pin)}>Name and note …</MenuItem>}
                    {canWrite && (
                      <MenuItem isGrave onSelect={() => onUnpin(pin)}>
                        Take it out
                      </MenuItem>
                    )}
                  </MoreMenu>
                </li>
              ) : (
                <li
                  key={event.number}
                  className={`group flex items-start ${event.fromRevision - 1 === from && event.toRevision === to ? 'bg-slate-tint' : 'hover:bg-paper'} ${event === firstNew ? 'border-b-2 border-slate/40' : ''}`}
                >
                  <button
                    aria-current={event.fromRevision - 1 === from && event.toRevision === to ? 'true' : undefined}
                    className="flex min-w-0 flex-1 items-start gap-2.5 px-3 py-1.5 text-left"
                    onClick={() => onEvent(event)}
                  >
                    <span className="w-9 shrink-0 font-serif text-[14px] text-ink-2">
                      {clock.format(new Date(event.end))}
                    </span>
                    {event.person ? <Initials person={event.person} small /> : <span className="w-5" />}
                    <span className="min-w-0 flex-1">
                      <Told event={event} />
                      <span className="block truncate text-[12px] text-ink-2">
                        {event.script && `${event.script} · `}
                        {says(event)}
                      </span>
                      {event === firstNew && (
                        <span className="text-[11.5px] text-slate">new since you were last here, up to here</span>
                      )}
                    </span>
                  </button>
                  {canWrite && (
                    <button
                      className="m-1.5 rounded p-1 text-ink-2 opacity-0 group-hover:opacity-100 hover:text-rubric focus-visible:opacity-100"
                      aria-label={`Pin the moment after revision ${event.toRevision}`}
                      title="Pin this moment"
                      onClick={() => onSetPin(event.toRevision)}
                    >
                      <Diamond className="size-3.5" aria-hidden />
                    </button>
                  )}
                </li>
              ),
            )}
          </ol>
        </li>
      ))}
    </ol>
  );
}

function Told({ event }: { event: HistoryEvent }) {
  const { what, to } = told(event);
  return (
    <span className="block">
      <span className="sr-only">{event.person?.name}: </span>
      {what && <span>{event.kind === 'act' ? what : `${what} `}</span>}
      {event.kind === 'act' ? (
        to && <span className="text-ink-2"> · {to}</span>
      ) : (
        <span className="font-medium">{to}</span>
      )}
    </span>
  );
}
