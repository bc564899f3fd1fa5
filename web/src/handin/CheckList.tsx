import { useState } from 'react';
import { Link } from 'react-router';
import { PictureWords } from './PictureWords';
import { addressOf, PlaceLine } from './PlaceLine';
import type { CheckGroup, CheckPlace, HandInCheck } from '../api/client';
import { useRoom } from '../rooms/roomContext';
import { plural } from '../ui/words';
import { states, wayTo } from './checks';

const Shown = 5;

/** The checks in their groups: each with its state, what is asked for, where it is, and the way to mend it. */
export function CheckList(props: { groups: readonly CheckGroup[]; onMend: (places: CheckPlace[]) => void }) {
  return (
    <div className="min-h-0 flex-1 overflow-y-auto px-4 pb-6">
      {props.groups.map((g) => (
        <section key={g.title} aria-label={g.title}>
          <h2 className="mt-4 mb-1 font-serif text-[17px] text-rubric">{g.title}</h2>
          <ul>
            {g.checks.map((c) => (
              <Check key={c.key} check={c} onMend={props.onMend} />
            ))}
          </ul>
        </section>
      ))}
    </div>
  );
}

function Check({ check, onMend }: { check: HandInCheck; onMend: (places: CheckPlace[]) => void }) {
  const { manuscript, canWrite } = useRoom();
  const [isWhole, setWhole] = useState(false);
  const { sign, says, tone } = states[check.state];
  const isGood = check.state === 'holds';
  const mendable = canWrite && !isGood ? check.places.filter((p) => p.repair) : [];
  const way = wayTo(check);
  const only = !isGood && check.places.length === 1 ? check.places[0]! : undefined;
  const places = isGood ? [] : isWhole ? check.places : check.places.slice(0, Shown);
  return (
    <li data-check={check.key} data-state={check.state} className="border-b border-rule/50 py-1.5">
      <div className="flex items-baseline gap-3">
        <span className={`w-4 shrink-0 text-center ${tone}`} aria-hidden>
          {sign}
        </span>
        <p className="min-w-0 flex-1">
          <span className="sr-only">{says}: </span>
          <span className={isGood ? '' : 'font-medium'}>{check.says}</span>
          {check.rule && <span className="ml-2.5 text-[12.5px] text-ink-2">{check.rule}</span>}
        </p>
        {mendable.length > 0 && (
          <button className="button px-2.5 py-0.5" onClick={() => onMend(mendable)}>
            {mendable.length === 1
              ? mendable[0]!.repair!.text.trim()
                ? `Take ${mendable[0]!.repair!.text.trim().slice(0, 30)}`
                : 'Mend it'
              : `Mend ${mendable.length}`}
          </button>
        )}
        {way ? (
          <Link className="button px-2.5 py-0.5" to={`/m/${manuscript.id}/${way.path}`}>
            {way.says}
          </Link>
        ) : (
          only?.file && (
            <Link className="button px-2.5 py-0.5" to={addressOf(manuscript.id, only)}>
              Show
            </Link>
          )
        )}
      </div>
      {!isGood && (check.advice || places.length > 0) && (
        <div className="mt-0.5 ml-7 text-[12.5px] text-ink-2">
          {check.advice && <p>{check.advice}</p>}
          {places.length > 0 && (
            <ul>
              {places.map((p, i) =>
                canWrite && check.key === 'alternatives' ? (
                  <li key={`${p.file} ${p.offset}`}>
                    <PictureWords place={p} />
                  </li>
                ) : (
                  <li key={i}>
                    <PlaceLine place={p} />
                  </li>
                ),
              )}
            </ul>
          )}
          {!isWhole && check.places.length > Shown && (
            <button className="text-slate underline" onClick={() => setWhole(true)}>
              {plural(check.places.length - Shown, 'more place')}
            </button>
          )}
        </div>
      )}
    </li>
  );
}
