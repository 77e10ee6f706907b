import { BRUSH_FADES, mirrorNumbers, setPreview, Stroke, type BrushMode, type PaintChange } from '@umberfish/core';
import { applyEdit, selectProject, store, useSend, useStore } from '../../state/store.ts';
import { remarked, uiSet, type BrushSettings } from '../../state/ui-slice.ts';
import { Button } from '../../ui/button.tsx';
import { Choice } from '../../ui/choice.tsx';
import { Menu } from '../../ui/menu.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import type { DrawnItem } from '../stage/drawn-items.ts';
import {
  acrossOf,
  askPaintable,
  isOnStage,
  isPaintedOn,
  numbersOf,
  tellHeld,
  writePaint,
  type PaintedMesh,
  type PaintedNode,
} from './painting.ts';
import { paintedNodeOf, usePaintable } from './use-paintable.ts';

const MODES: readonly [BrushMode, string, string][] = [
  ['add', 'Add', 'Each stroke adds one coat (Alt takes away instead, Shift evens out)'],
  ['take', 'Take', 'Each stroke takes one coat away'],
  ['smooth', 'Smooth', 'Evens out with the points around'],
  ['value', 'To value', 'Leads to one number'],
];
const AXES = ['x', 'y', 'z'] as const;
const SMALL = '!h-6 !px-1.5 text-xs';

/** At the foot of the stage while a node is painted: the brush, what is painted, and what is done with all points at once. */
export function PaintBar({ items }: { items: readonly DrawnItem[] }) {
  const node = useStore(paintedNodeOf);
  const brush = useStore((s) => s.ui.brush);
  const colours = useStore((s) => s.ui.painting?.colours ?? 'heat');
  const send = useSend();
  const mesh = usePaintable(node, brush.across);
  const project = useStore(selectProject);
  if (!node) return null;
  const setBrush = (change: Partial<BrushSettings>) => send(uiSet({ brush: { ...store.getState().ui.brush, ...change } }));
  const fits =
    !mesh ||
    !project ||
    (isOnStage(project, node) && items.some((i) => isPaintedOn(node, i) && i.mesh.topology.pointCount === mesh.pointCount));
  return (
    <div
      data-foot-bar
      data-paint-bar={mesh ? mesh.pointCount : ''}
      className="absolute inset-x-2 bottom-2 flex flex-wrap items-center gap-x-1 gap-y-1 rounded border border-pick bg-raised px-1.5 py-1 text-xs shadow-sm"
    >
      {MODES.map(([mode, label, hint]) => (
        <Button key={mode} className={SMALL} pressed={brush.mode === mode} hint={hint} onClick={() => setBrush({ mode })}>
          {label}
        </Button>
      ))}
      {brush.mode === 'value' && (
        <Dial
          label="Value"
          value={brush.value}
          range={{ min: node.least, max: node.most }}
          onChange={(value) => setBrush({ value })}
        />
      )}
      <Dial
        label="Strength"
        unit="%"
        value={Math.round(brush.strength * 100)}
        range={{ min: 1, max: 100, hard: true }}
        onChange={(v) => setBrush({ strength: v / 100 })}
      />
      <Dial
        label="Size"
        unit="m"
        value={brush.reach}
        range={{ min: 0.001, max: 2 }}
        onChange={(reach) => reach > 0 && setBrush({ reach })}
      />
      <div className="w-22">
        <Choice
          label="Brush fades"
          value={brush.fade}
          options={BRUSH_FADES.map((value) => ({ value, label: `${value[0].toUpperCase()}${value.slice(1)}` }))}
          onChange={(fade) => setBrush({ fade: fade as BrushSettings['fade'] })}
        />
      </div>
      <div className="w-28">
        <Choice
          label="Painted across too"
          value={String(brush.across)}
          options={[
            { value: 'null', label: 'One side' },
            ...AXES.map((a, k) => ({ value: String(k), label: `Across ${a} too` })),
          ]}
          onChange={(v) => setBrush({ across: v === 'null' ? null : (Number(v) as 0 | 1 | 2) })}
        />
      </div>
      <AllAtOnce node={node} mesh={mesh} />
      {node.together && (
        <Button
          className={SMALL}
          pressed={colours === 'joints'}
          hint="Every joint in a colour of its own, or the weights of one from least to most"
          onClick={() => send(uiSet({ painting: { node: node.id, colours: colours === 'joints' ? 'heat' : 'joints' } }))}
        >
          Colours by joint
        </Button>
      )}
      <span className="flex-1" />
      <Button look="framed" className={SMALL} onClick={() => send(uiSet({ painting: null }))} hint="Escape does it too">
        Done
      </Button>
      {!fits && (
        <p className="flex basis-full items-center gap-2 text-bad">
          Nothing on the stage has the points of this node.
          <Button
            look="framed"
            className={SMALL}
            onClick={() => applyEdit('Show node', setPreview(node.graph.id, node.id))}
            hint="Shows what comes out of the node that is painted, instead of the graph's results"
          >
            Show it here
          </Button>
        </p>
      )}
    </div>
  );
}

interface DialProps {
  label: string;
  value: number;
  unit?: string;
  range: { min: number; max: number; hard?: boolean };
  onChange(value: number): void;
}

const Dial = ({ label, value, unit, range, onChange }: DialProps) => (
  <div className="w-26">
    <NumberField
      label={label}
      prefix={label.toLowerCase()}
      unit={unit}
      value={value}
      range={range}
      onChange={(v) => typeof v === 'number' && onChange(v)}
    />
  </div>
);

/** What is done with every point: the brush everywhere, or one side on the other. */
function AllAtOnce({ node, mesh }: { node: PaintedNode; mesh: PaintedMesh | undefined }) {
  const brush = useStore((s) => s.ui.brush);
  const send = useSend();
  const write = (change: PaintChange, label: string) => mesh && writePaint(change, mesh.pointCount, label);
  const flood = () => {
    const project = selectProject(store.getState());
    if (!mesh || !project) return;
    const ground = { pointCount: mesh.pointCount, positions: new Float32Array(0), neighbours: mesh.neighbours };
    const stroke = new Stroke(ground, brush, numbersOf(node, mesh, brush.locked));
    write(stroke.flood(), 'Paint all points');
    tellHeld(stroke.held);
  };
  const mirror = async (axis: 0 | 1 | 2, side: 1 | -1) => {
    const project = selectProject(store.getState());
    const asked = await askPaintable(node, axis);
    const across = project && asked ? acrossOf(project, asked) : null;
    if (!asked?.across || !across) return;
    const alone = asked.across.partners.filter((q) => q < 0).length;
    write(mirrorNumbers(numbersOf(node, asked, []), across, asked.across.sides, side), 'Mirror what is painted');
    if (alone > 0) send(remarked({ text: `${alone} points have none on the other side, and stay as they are.`, kind: 'wrong' }));
  };
  return (
    <>
      <Button className={SMALL} disabled={!mesh} hint="One stroke over every point" onClick={flood}>
        All points
      </Button>
      <Menu
        trigger={<Button className={SMALL}>Mirror ▾</Button>}
        items={AXES.flatMap((a, k) =>
          ([1, -1] as const).map((side) => ({
            label: side === 1 ? `From +${a} to −${a}` : `From −${a} to +${a}`,
            onSelect: () => void mirror(k as 0 | 1 | 2, side),
          })),
        )}
      />
    </>
  );
}
