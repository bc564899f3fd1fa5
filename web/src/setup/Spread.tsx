import { useState } from 'react';
import type { PageLook } from '../api/client';
import { plural } from '../ui/words';
import { comfort, measured, strays, units, type Unit } from './settings';

/** Two facing pages as they are set, to scale, with their measures. */
export function Spread({ page, pages }: { page: PageLook; pages: number | undefined }) {
  const [unit, setUnit] = useState<Unit>('mm');
  const { paperWidth: w, paperHeight: h } = page;
  const gap = w * 0.03;
  const foot = 26 * (w / 300);
  const say = (points: number) => measured(points, unit);
  const problem = strays(page);
  const lines = Math.max(3, Math.min(60, page.pageLines));
  return (
    <section aria-label="A spread, as set" className="px-4 pt-3">
      <div className="flex items-baseline justify-between gap-2">
        <h3 className="font-medium">A spread, as set</h3>
        <label className="text-[12px] text-tint-ink">
          <span className="sr-only">Measures in </span>
          <select
            className="rounded border border-rule bg-leaf px-1"
            value={unit}
            onChange={(e) => setUnit(e.target.value as Unit)}
          >
            {Object.keys(units).map((u) => (
              <option key={u}>{u}</option>
            ))}
          </select>
        </label>
      </div>
      <svg
        viewBox={`${-foot * 0.2} 0 ${2 * w + gap + foot * 0.4} ${h + foot}`}
        className="mt-2 max-h-[330px] w-full"
        role="img"
        aria-label={`Paper ${say(w)} by ${say(h)}; text ${say(page.textWidth)} by ${say(page.textHeight)}; left ${say(page.oddLeft)}, right ${say(w - page.oddLeft - page.textWidth)}, above ${say(page.top)}, below ${say(h - page.top - page.textHeight)}`}
      >
        {[page.evenLeft, page.oddLeft].map((left, side) => {
          const x = side * (w + gap);
          const column = (page.textWidth - page.columnSeparation * (page.columns - 1)) / page.columns;
          const right = w - left - page.textWidth;
          // Notes stand in the outer margin.
          const notes =
            side === 0 && page.isTwoSided
              ? left - page.noteSeparation - page.noteWidth
              : left + page.textWidth + page.noteSeparation;
          return (
            <g key={side} transform={`translate(${x} 0)`}>
              <rect width={w} height={h} className="fill-sheet stroke-edge" strokeWidth={w / 500} />
              <rect
                x={left}
                y={page.top}
                width={page.textWidth}
                height={page.textHeight}
                fill="none"
                className="stroke-slate"
                strokeWidth={w / 300}
                strokeDasharray={`${w / 80} ${w / 110}`}
              />
              {Array.from({ length: page.columns }, (_, c) =>
                Array.from({ length: lines }, (_, i) => {
                  const isLast = i % 9 === 8;
                  const at = page.top + (page.textHeight * (i + 0.75)) / lines;
                  const from = left + c * (column + page.columnSeparation);
                  return (
                    <line
                      key={`${c} ${i}`}
                      x1={from + (i % 9 === 0 && i > 0 ? column * 0.05 : 0)}
                      x2={from + column * (isLast ? 0.6 : 1)}
                      y1={at}
                      y2={at}
                      className="stroke-edge"
                      strokeWidth={Math.min(w / 130, page.textHeight / lines / 3)}
                    />
                  );
                }),
              )}
              {page.hasHead && (
                <rect
                  x={left}
                  y={page.top - page.headSeparation - w / 70}
                  width={page.textWidth}
                  height={w / 90}
                  className="fill-rubric/60"
                />
              )}
              {page.hasFoot && (
                <rect
                  x={left + page.textWidth / 2 - w / 40}
                  y={page.top + page.textHeight + page.footSkip - w / 70}
                  width={w / 20}
                  height={w / 90}
                  className="fill-rubric/60"
                />
              )}
              {page.noteWidth > 0 && (
                <rect
                  x={notes}
                  y={page.top}
                  width={page.noteWidth}
                  height={page.textHeight * 0.12}
                  fill="none"
                  className="stroke-ochre"
                  strokeWidth={w / 400}
                />
              )}
              <g fontSize={foot * 0.5} className="fill-tint-ink" textAnchor="middle">
                <text x={left / 2} y={h + foot * 0.7}>
                  {say(left)}
                </text>
                <text x={left + page.textWidth / 2} y={h + foot * 0.7}>
                  {say(page.textWidth)}
                </text>
                <text x={w - right / 2} y={h + foot * 0.7}>
                  {say(right)}
                </text>
              </g>
            </g>
          );
        })}
      </svg>
      <dl className="mt-2 grid grid-cols-[84px_1fr] gap-x-3 gap-y-0.5">
        <Fact name="Paper">
          {say(w)} × {say(h)}
        </Fact>
        <Fact name="Above, below">
          {say(page.top)}, {say(h - page.top - page.textHeight)}
        </Fact>
        <Fact name="A line">
          <b className="font-semibold">{Math.round(page.lineCharacters)} characters</b>{' '}
          <span className="text-tint-ink">{comfort(page.lineCharacters)}</span>
        </Fact>
        <Fact name="A page">
          <b className="font-semibold">{plural(page.pageLines, 'line')}</b>{' '}
          <span className="text-tint-ink">
            {page.typeSize} pt on {Math.round(page.leading * 10) / 10} pt
          </span>
        </Fact>
        {pages !== undefined && <Fact name="In all">{plural(pages, 'page')}</Fact>}
      </dl>
      {problem && (
        <p role="status" className="mt-2 rounded bg-ochre-tint px-2 py-1 text-ochre-ink">
          {problem}
        </p>
      )}
    </section>
  );
}

function Fact({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <>
      <dt className="text-tint-ink">{name}</dt>
      <dd>{children}</dd>
    </>
  );
}
