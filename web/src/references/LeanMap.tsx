import type { Leaning } from './labels';

const Step = 56;

/** Which chapter leans on which: above the line on what comes before, below it on what is still to come. */
export function LeanMap({ leaning }: { leaning: Leaning }) {
  const { chapters, arcs } = leaning;
  if (chapters.length < 2)
    return <p className="px-4 pb-4 text-ink-2">With a second chapter you see here which leans on which.</p>;
  const width = chapters.length * Step;
  const farthest = Math.max(1, ...arcs.map((a) => Math.abs(a.from - a.to)));
  const tall = Math.min(110, farthest * 22 + 14);
  const below = arcs.some((a) => a.to > a.from) ? tall : 8;
  const most = Math.max(1, ...arcs.map((a) => a.count));
  const x = (at: number) => at * Step + Step / 2;
  const says = (at: number) => `${chapters[at]!.number} ${chapters[at]!.title}`;
  return (
    <figure className="px-4 pb-3">
      <svg
        viewBox={`0 0 ${width} ${tall + below + 30}`}
        className="max-h-[230px] w-full"
        role="img"
        aria-label={
          arcs.length === 0
            ? 'No chapter refers to another.'
            : arcs.map((a) => `${says(a.from)} refers to ${says(a.to)} ${a.count} times`).join('; ')
        }
      >
        <line x1={0} x2={width} y1={tall + 14} y2={tall + 14} className="stroke-rule" />
        {arcs.map(({ from, to, count }) => {
          const isBack = to < from;
          const high = (Math.abs(from - to) / farthest) * (tall - 16) + 12;
          const y = tall + (isBack ? 5 : 23);
          return (
            <path
              key={`${from} ${to}`}
              d={`M${x(from)} ${y} C${x(from)} ${y + (isBack ? -high : high) * 1.33} ${x(to)} ${y + (isBack ? -high : high) * 1.33} ${x(to)} ${y}`}
              fill="none"
              className={isBack ? 'stroke-slate' : 'stroke-ochre'}
              strokeWidth={1 + (3 * count) / most}
              strokeDasharray={isBack ? undefined : '4 3'}
              opacity={0.75}
            >
              <title>{`${says(from)} → ${says(to)}: ${count}`}</title>
            </path>
          );
        })}
        {chapters.map((c, i) => (
          <text
            key={c.index}
            x={x(i)}
            y={tall + 19}
            textAnchor="middle"
            className="fill-rubric-ink font-serif text-[15px] [paint-order:stroke] stroke-leaf stroke-[5px]"
          >
            {c.number}
            <title>{c.title}</title>
          </text>
        ))}
      </svg>
      <figcaption className="text-[12px] text-ink-2">
        Above the line: to what came before. Below it, dashed: to what is still to come. Thicker is more often.
      </figcaption>
    </figure>
  );
}
