import type { ChronicleState, Pin } from '../api/client';
import { digits } from '../ui/words';
import { day } from '../ui/time';

const Wide = 364;
const High = 58;

/** The words that were typed, over time, with the pins on the line. */
export function WordsLine(props: { words: ChronicleState['words']; pins: readonly Pin[]; onPin: (pin: Pin) => void }) {
  const { words, pins, onPin } = props;
  if (words.length < 2) return null;
  const times = words.map((w) => Date.parse(w.day));
  const [first, last] = [times[0]!, times.at(-1)! + 86_400_000];
  const most = Math.max(1, ...words.map((w) => w.words));
  const x = (time: number) => ((Math.min(Math.max(time, first), last) - first) / (last - first)) * Wide;
  const y = (count: number) => High - (Math.max(0, count) / most) * (High - 8);
  const line = words.map((w, i) => `${x(times[i]! + 43_200_000).toFixed(1)},${y(w.words).toFixed(1)}`);
  return (
    <figure className="px-3 pt-2.5">
      <figcaption className="flex justify-between text-[11px] tracking-wide text-ink-2 uppercase">
        <span>Words typed, since the start</span>
        <span>{digits(words.at(-1)!.words)}</span>
      </figcaption>
      <svg
        viewBox={`0 0 ${Wide} ${High + 2}`}
        className="mt-1 w-full"
        role="img"
        aria-label={`${digits(words[0]!.words)} words ${day(words[0]!.day)}, ${digits(words.at(-1)!.words)} ${day(words.at(-1)!.day)}; ${pins.length} pins`}
      >
        <polygon
          points={`${x(times[0]! + 43_200_000)},${High} ${line.join(' ')} ${Wide},${y(words.at(-1)!.words)} ${Wide},${High}`}
          className="fill-slate-tint"
        />
        <polyline
          points={`${line.join(' ')} ${Wide},${y(words.at(-1)!.words)}`}
          className="fill-none stroke-slate"
          strokeWidth={1.6}
        />
        {pins.map((pin) => (
          <g key={pin.id} className="cursor-pointer" onClick={() => onPin(pin)}>
            <title>{pin.name}</title>
            <line
              x1={x(Date.parse(pin.at))}
              x2={x(Date.parse(pin.at))}
              y1={6}
              y2={High}
              className="stroke-rubric"
              strokeWidth={1}
            />
            <path
              d={`M${x(Date.parse(pin.at))} 0l4 5l-4 5l-4 -5z`}
              className={pin.isAutomatic ? 'fill-ink-3' : 'fill-rubric'}
            />
          </g>
        ))}
      </svg>
    </figure>
  );
}
