import { lights, useLight, type Light } from '../ui/light';
import { Panel } from '../ui/Panel';
import { useKept } from '../ui/useKept';
import { languages, sizes, usualLooks, type Looks } from '../write/looks';

const row = 'grid grid-cols-[11rem_1fr] items-center gap-3';
const select = 'w-fit rounded border border-rule bg-page px-2 py-1';

/** How a person wants it all to look: the light, the source's type, spelling. It is kept in this browser. */
export function LooksDialog({ onClose }: { onClose: () => void }) {
  const [light, setLight] = useLight();
  const [looks, setLooks] = useKept<Looks>('looks', usualLooks);
  const change = (some: Partial<Looks>) => setLooks({ ...usualLooks, ...looks, ...some });
  return (
    <Panel
      title="How it looks to you"
      about="Only to you, and in this browser."
      className="w-[32rem]"
      cross
      onClose={onClose}
    >
      <div className="mt-4 flex flex-col gap-3">
        <div className={row} role="radiogroup" aria-label="Light">
          <span className="text-ink-2">Light</span>
          <span className="flex gap-4">
            {(Object.keys(lights) as Light[]).map((one) => (
              <label key={one} className="flex items-center gap-1.5">
                <input
                  type="radio"
                  name="light"
                  className="accent-slate"
                  checked={light === one}
                  onChange={() => setLight(one)}
                />
                {lights[one]}
              </label>
            ))}
          </span>
        </div>
        <label className={row}>
          <span className="text-ink-2">Type of the source</span>
          <select className={select} value={looks.size} onChange={(e) => change({ size: Number(e.target.value) })}>
            {sizes.map((size) => (
              <option key={size} value={size}>
                {size} px
              </option>
            ))}
          </select>
        </label>
        <label className={row}>
          <span className="text-ink-2">Long lines</span>
          <select
            className={select}
            value={looks.wraps ? 'wrap' : 'run'}
            onChange={(e) => change({ wraps: e.target.value === 'wrap' })}
          >
            <option value="wrap">go on below</option>
            <option value="run">run out to the right</option>
          </select>
        </label>
        <label className={row}>
          <span className="text-ink-2">Spelling</span>
          <select className={select} value={looks.spelling} onChange={(e) => change({ spelling: e.target.value })}>
            {Object.entries(languages).map(([code, name]) => (
              <option key={code} value={code}>
                {name}
              </option>
            ))}
            <option value="">don’t look at it</option>
          </select>
        </label>
        <p className="text-[12.5px] text-ink-2">
          Where a manuscript loads babel or polyglossia, words are looked at in the language that it says, passage by
          passage; the language here is for manuscripts that say none.
        </p>
      </div>
    </Panel>
  );
}
