import { PanelLeftOpen } from 'lucide-react';
import { use, useMemo, useState, type ReactNode } from 'react';
import { Group, Panel, Separator, useDefaultLayout, usePanelRef } from 'react-resizable-panels';
import { KeptFor, sizesOf } from '../ui/useKept';
import { useNarrow } from '../ui/useNarrow';
import { useStable } from '../ui/useStable';

export type LeafName = 'source' | 'spine' | 'proof';

interface Props {
  /** The leaf that is shown where there is room for one only. */
  shown: LeafName;
  onShow: (leaf: LeafName) => void;
  source: ReactNode;
  /** The spine, with what folds it away; null where it can't be. */
  spine: (fold: (() => void) | null) => ReactNode;
  proof: ReactNode;
}

const names: { leaf: LeafName; says: string }[] = [
  { leaf: 'source', says: 'Source' },
  { leaf: 'spine', says: 'Spine' },
  { leaf: 'proof', says: 'Proof' },
];

/** The open book: two leaves with the spine between them, or one at a time where it is narrow. */
export function Leaves(props: Props) {
  const isNarrow = useNarrow();
  return isNarrow ? <OneLeaf {...props} /> : <Spread {...props} />;
}

function OneLeaf({ shown, onShow, ...leaves }: Props) {
  return (
    <main className="flex min-h-0 flex-1 flex-col">
      <div
        role="group"
        aria-label="Leaf"
        data-leaf="switch"
        className="flex shrink-0 gap-1 border-b border-rule bg-band p-1.5"
      >
        {names.map(({ leaf, says }) => (
          <button
            key={leaf}
            aria-pressed={leaf === shown}
            onClick={() => onShow(leaf)}
            className={`flex-1 rounded px-2 py-1.5 ${leaf === shown ? 'bg-leaf font-semibold shadow-sm' : 'text-ink-2 hover:bg-page/60'}`}
          >
            {says}
          </button>
        ))}
      </div>
      {names.map(({ leaf }) => (
        <div key={leaf} hidden={leaf !== shown} className={leaf === shown ? 'min-h-0 flex-1' : ''}>
          {leaf === 'spine' ? leaves.spine(null) : leaves[leaf]}
        </div>
      ))}
    </main>
  );
}

function Spread({ source, spine, proof }: Props) {
  const person = use(KeptFor);
  const storage = useMemo(() => sizesOf(person), [person]);
  const { defaultLayout, onLayoutChanged } = useDefaultLayout({
    id: 'leaves',
    panelIds: ['source', 'spine', 'proof'],
    storage,
  });
  const spinePanel = usePanelRef();
  const fold = useStable(() => spinePanel.current?.collapse());
  const [isFolded, setIsFolded] = useState(defaultLayout?.spine === 0);
  return (
    <main className="min-h-0 flex-1 p-2.5">
      <Group
        id="leaves"
        defaultLayout={defaultLayout}
        onLayoutChanged={onLayoutChanged}
        className="relative h-full overflow-hidden rounded-md shadow-[0_1px_6px_rgb(31_42_55/18%)]"
      >
        <Panel id="source" defaultSize="43%" minSize="20%">
          {source}
        </Panel>
        <Separator aria-label="Width of the source leaf" className="w-1 bg-edge hover:bg-slate" />
        <Panel
          id="spine"
          panelRef={spinePanel}
          defaultSize="16.5%"
          minSize="10%"
          collapsible
          collapsedSize="0%"
          onResize={(size) => setIsFolded(size.asPercentage < 1)}
        >
          {!isFolded && spine(fold)}
        </Panel>
        <Separator aria-label="Width of the spine" className="w-1 bg-edge hover:bg-slate" />
        <Panel id="proof" minSize="20%">
          <div className="flex h-full">
            {isFolded && (
              <button
                className="flex w-7 shrink-0 flex-col items-center gap-2 border-r border-edge bg-spine py-3 text-ink-2 hover:text-ink"
                onClick={() => spinePanel.current?.expand()}
                aria-label="Unfold the spine"
                title="Unfold the spine"
              >
                <PanelLeftOpen className="size-4" aria-hidden />
                <span className="[writing-mode:vertical-rl]">Structure and files</span>
              </button>
            )}
            <div className="min-w-0 flex-1">{proof}</div>
          </div>
        </Panel>
      </Group>
    </main>
  );
}
