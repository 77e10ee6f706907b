import { setSetting, shareOut } from '@umberfish/core';
import { Lock, LockOpen } from 'lucide-react';
import { catalogue } from '../../state/catalogue.ts';
import { applyEdit, selectProject, store, useSend, useStore } from '../../state/store.ts';
import { uiSet } from '../../state/ui-slice.ts';
import { NumberField } from '../../ui/number-field.tsx';
import { Button } from '../../ui/button.tsx';
import { gestureEnded } from '../../state/project-slice.ts';
import { jointColourOf } from '../../ui/joint-colours.ts';
import { paintableJoints, writePaint, type PaintedMesh, type PaintedNode } from './painting.ts';
import { paintedNodeOf, usePaintable } from './use-paintable.ts';

/** The joints whose weights can be painted: which is, which are locked, and their colours on the stage. */
export function PaintedJoints() {
  const project = useStore(selectProject);
  const node = useStore(paintedNodeOf);
  const locked = useStore((s) => s.ui.brush.locked);
  const colours = useStore((s) => s.ui.painting?.colours);
  const element = useStore((s) => s.ui.element);
  const mesh = usePaintable(node, null);
  const send = useSend();
  if (!project || !node?.together) return null;
  const has = [...(mesh?.columns.keys() ?? [])];
  const take = (attribute: string) =>
    applyEdit('Paint another joint', setSetting(catalogue(), node.graph.id, node.id, 'name', attribute));
  const toggle = (attribute: string) => {
    const { brush } = store.getState().ui;
    const next = locked.includes(attribute) ? locked.filter((l) => l !== attribute) : [...locked, attribute];
    send(uiSet({ brush: { ...brush, locked: next } }));
  };
  const marked = element !== null && mesh && element < mesh.pointCount ? element : null;
  return (
    <>
      {marked !== null && mesh && <PointWeights point={marked} mesh={mesh} />}
      <ul aria-label="Joints" className="flex max-h-72 flex-col overflow-y-auto rounded border border-line text-xs">
        {paintableJoints(project, has).map(({ attribute, label }) => {
          const [isPicked, isLocked] = [attribute === node.name, locked.includes(attribute)];
          return (
            <li
              key={attribute}
              className={`flex h-7 shrink-0 items-center ${isPicked ? 'bg-sunk font-semibold text-ink' : 'text-soft'}`}
            >
              <button
                type="button"
                aria-pressed={isPicked}
                className="flex h-full min-w-0 flex-1 items-center gap-1.5 px-1.5 text-left hover:text-ink"
                onClick={() => take(attribute)}
              >
                <span
                  className="size-2.5 shrink-0 rounded-full"
                  style={{
                    background: colours === 'joints' && has.includes(attribute) ? jointColourOf(has, attribute) : 'var(--line)',
                  }}
                />
                <span className="truncate">{label}</span>
                {marked === null && !has.includes(attribute) && (
                  <span className="ml-auto font-normal text-faint">no weights yet</span>
                )}
              </button>
              {marked !== null && mesh && (
                <div className="w-18 font-normal">
                  <NumberField
                    label={`Weight of ${label}`}
                    value={Number((mesh.columns.get(attribute)?.[marked] ?? 0).toFixed(5))}
                    range={{ min: 0, max: 1, hard: true }}
                    onChange={(v, g) => typeof v === 'number' && give(node, mesh, marked, attribute, v, g)}
                    onEnd={endGesture}
                  />
                </div>
              )}
              <button
                type="button"
                aria-label={`Lock ${label}`}
                aria-pressed={isLocked}
                title={isLocked ? 'Its weights stay as they are' : 'Keep its weights as they are'}
                className={`flex h-full items-center px-1.5 ${isLocked ? 'text-umber' : 'text-faint hover:text-ink'}`}
                onClick={() => toggle(attribute)}
              >
                {isLocked ? <Lock size={12} /> : <LockOpen size={12} />}
              </button>
            </li>
          );
        })}
      </ul>
    </>
  );
}

const endGesture = () => store.dispatch(gestureEnded());

/** Gives a joint another weight at a point; the others share what is left, but for those that are locked. */
function give(node: PaintedNode, mesh: PaintedMesh, point: number, attribute: string, weight: number, gesture: string | null) {
  const { locked } = store.getState().ui.brush;
  const names = [...new Set([attribute, ...mesh.columns.keys()])];
  const shares = names.map((n) => mesh.columns.get(n)?.[point] ?? 0);
  shareOut(
    shares,
    0,
    weight,
    names.map((n) => locked.includes(n)),
  );
  writeWeights(mesh, point, names, shares, gesture && `${gesture} ${node.id} ${point}`);
}

function writeWeights(
  mesh: PaintedMesh,
  point: number,
  names: readonly string[],
  weights: readonly number[],
  gesture: string | null = null,
): void {
  const change = new Map(names.map((n, i) => [n, { points: [point], values: [Number(weights[i].toFixed(7))] }]));
  writePaint(change, mesh.pointCount, 'Weights of a point', gesture);
}

/** Weights that were copied from a point. */
let copied: ReadonlyMap<string, number> | null = null;

/** The point whose weights are listed, and taking them to another one. */
function PointWeights({ point, mesh }: { point: number; mesh: PaintedMesh }) {
  const send = useSend();
  const copy = () => {
    copied = new Map([...mesh.columns].map(([n, data]) => [n, data[point]]));
    send(uiSet({ element: point }));
  };
  const paste = () => {
    if (!copied) return;
    const names = [...new Set([...copied.keys(), ...mesh.columns.keys()])];
    writeWeights(
      mesh,
      point,
      names,
      names.map((n) => copied?.get(n) ?? 0),
    );
  };
  const small = '!h-6 !px-1.5 text-xs';
  return (
    <p className="flex items-center gap-1 text-xs text-soft">
      <span className="flex-1">
        Weights of point <span className="number text-ink">{point}</span>
      </span>
      <Button className={small} hint="Keeps the weights of this point" onClick={copy}>
        Copy
      </Button>
      <Button className={small} hint="Gives this point the weights that were copied" onClick={paste}>
        Paste
      </Button>
      <Button className={small} hint="Ctrl-click marks another point" onClick={() => send(uiSet({ element: null }))}>
        Close
      </Button>
    </p>
  );
}
