import { Fragment } from 'react';
import { Link } from 'react-router';
import type { Setting, SetUpState } from '../api/client';
import { useRoom } from '../rooms/roomContext';
import { lineAt, pieces } from './settings';

/** The lines that settings stand in, as they are typed: each lights up with its setting, and leads to it. */
export function PreambleLeaf(props: {
  setUp: SetUpState;
  settings: ReadonlyMap<string, Setting>;
  lit: string | null;
  onLight: (id: string | null) => void;
  onGoTo: (id: string) => void;
}) {
  const { setUp, settings, lit, onLight, onGoTo } = props;
  const { manuscript } = useRoom();
  const all = [...settings.values()];
  return (
    <div className="min-h-0 flex-1 overflow-auto pb-4">
      {setUp.files.map(({ path, text }) => {
        const first = all.flatMap((s) => s.places).find((p) => p.file === path);
        return (
          <section key={path} aria-label={`Preamble in ${path}`}>
            <h3 className="sticky top-0 flex items-baseline justify-between border-b border-rule bg-leaf px-4 py-1.5 text-[12px] text-ink-2">
              <span className="font-mono">{path}</span>
              <Link
                className="text-slate underline decoration-slate/40 hover:decoration-slate"
                to={`/m/${manuscript.id}/write?file=${encodeURIComponent(path)}&line=${first ? lineAt(text, first.from) : 1}`}
              >
                write here
              </Link>
            </h3>
            <pre className="px-4 py-2 font-mono text-[12px] leading-[1.65] break-words whitespace-pre-wrap text-ink-2">
              {pieces(path, text, all).map((piece) =>
                piece.settings.length === 0 ? (
                  <Fragment key={piece.from}>{piece.text}</Fragment>
                ) : (
                  <button
                    key={piece.from}
                    className={`rounded-sm text-left whitespace-pre-wrap ${
                      lit !== null && piece.settings.includes(lit)
                        ? 'bg-mark text-ink'
                        : piece.wins
                          ? 'bg-note text-ink hover:bg-mark/60'
                          : 'text-ink line-through decoration-ink-3 hover:bg-mark/60'
                    }`}
                    title={piece.settings.map((id) => settings.get(id)?.title).join(', ')}
                    onMouseEnter={() => onLight(piece.settings[0]!)}
                    onMouseLeave={() => onLight(null)}
                    onClick={() => onGoTo(piece.settings.find((id) => id === lit) ?? piece.settings[0]!)}
                  >
                    {piece.text}
                  </button>
                ),
              )}
            </pre>
          </section>
        );
      })}
    </div>
  );
}
