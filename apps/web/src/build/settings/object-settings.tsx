import {
  downstreamOf,
  facetGraph,
  facetVertex,
  ROTATION_ORDERS,
  shownResults,
  type Channels,
  type ObjectRecord,
  type Project,
  type RotationOrder,
  type Vec3,
} from '@umberfish/core';
import { changeObject, removeObjects } from '../../state/edits.ts';
import { gestureEnded } from '../../state/project-slice.ts';
import { applyEdit, store, useSend } from '../../state/store.ts';
import { objectsPicked, uiSet } from '../../state/ui-slice.ts';
import { Button } from '../../ui/button.tsx';
import { Choice } from '../../ui/choice.tsx';
import { formatCount } from '../../ui/format.ts';
import { Hint } from '../../ui/hint.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { TextField } from '../../ui/text-field.tsx';
import { ActsOn } from './acts-on.tsx';
import { FieldRow } from './field-row.tsx';
import { CurveSettings } from './curve-settings.tsx';
import { PointSets } from './point-sets.tsx';
import { ReplaceMesh } from './replace-mesh.tsx';

const TYPES: Record<ObjectRecord['type'], string> = {
  group: 'group',
  mesh: 'mesh',
  locator: 'locator',
  curve: 'curve',
  prop: 'prop',
  chain: 'chain',
};

/** Name, place in the scene and channels of an object. */
export function ObjectSettings({ project, object }: { project: Project; object: ObjectRecord }) {
  const send = useSend();
  const change = (label: string, part: Partial<ObjectRecord>, gesture: string | null = null) =>
    applyEdit(label, changeObject(object.id, part), gesture);
  const channels = (part: Partial<Channels>, label: string, gesture: string | null) =>
    change(label, { channels: { ...object.channels, ...part } }, gesture && `${gesture} ${object.id}`);
  const asset = project.assets.find((a) => a.id === object.mesh);
  const result = shownResults(project).find((r) => r.object === object.id);
  const graph = project.graphs.find((g) => g.id === result?.graph);
  return (
    <div className="flex flex-col gap-1.5" data-settings-of={object.id}>
      <div className="mb-1 flex items-baseline gap-2">
        <TextField
          label="Name"
          value={object.name}
          onChange={(name) => name.trim() && change('Rename', { name: name.trim() })}
          className="!border-transparent !bg-transparent !px-0 font-serif text-sm font-semibold hover:!border-line-strong"
        />
        <span className="shrink-0 text-soft">{TYPES[object.type]}</span>
      </div>
      <FieldRow label="Under" help="The object it hangs under; its channels are in that object's space.">
        <Choice
          label="Parent"
          value={object.parent ?? '-'}
          options={[
            { value: '-', label: 'The world' },
            ...project.objects
              .filter((o) => !isBelow(project, o.id, object.id))
              .map((o) => ({ value: o.id, label: o.name })),
          ]}
          onChange={(v) => change('Hang under', { parent: v === '-' ? null : v })}
        />
      </FieldRow>
      <Triple
        label="Move"
        help="Own channel: metres, in the parent's space."
        unit="m"
        value={object.channels.translate}
        range={[-5, 5]}
        onChange={(translate, g) => channels({ translate }, 'Move', g)}
        zero={0}
      />
      <Triple
        label="Turn"
        help="Own channel: degrees about x, y, z."
        unit="°"
        value={object.channels.rotate}
        range={[-180, 180]}
        onChange={(rotate, g) => channels({ rotate }, 'Turn', g)}
        zero={0}
      />
      <Triple
        label="Size"
        help="Own channel: factor along the object's own axes."
        unit="×"
        value={object.channels.scale}
        range={[0, 3]}
        onChange={(scale, g) => channels({ scale }, 'Size', g)}
        zero={1}
      />
      <FieldRow label="Order" help="Which turn is applied first, second and third.">
        <Choice
          label="Rotation order"
          value={object.channels.order}
          options={ROTATION_ORDERS.map((o) => ({ value: o, label: [...o].join(', then ') }))}
          onChange={(order) => channels({ order: order as RotationOrder }, 'Rotation order', null)}
        />
      </FieldRow>
      <Triple
        label="Pivot"
        help="The place it turns and sizes about, in its own space."
        unit="m"
        value={object.pivot}
        range={[-2, 2]}
        onChange={(pivot, g) => change('Pivot', { pivot }, g && `${g} ${object.id}`)}
        zero={0}
      />
      <FieldRow label="Carrier" help="The matrix a graph puts under the channels.">
        <span className="text-soft">{object.carrier ? 'a fixed matrix' : 'none, channels only'}</span>
      </FieldRow>
      <FieldRow label="Rest" help="The remembered undeformed state.">
        <span className="min-w-0 flex-1 truncate text-soft">
          {sameChannels(object) ? 'is where it stands' : 'differs from now'}
        </span>
        {!sameChannels(object) && (
          <Button
            look="framed"
            className="!h-6 !px-2"
            onClick={() => change('Set rest here', { rest: object.channels })}
          >
            Set here
          </Button>
        )}
      </FieldRow>
      {asset && (
        <p className="text-xs leading-snug text-soft">
          {formatCount(asset.points)} points, {formatCount(asset.faces)} faces, from {asset.origin}.
        </p>
      )}
      {result && graph && (
        <p className="text-xs leading-snug text-soft">
          Its result is made by{' '}
          <button
            type="button"
            className="text-umber underline"
            onClick={() => send(uiSet({ graph: graph.id, nodes: [result.node], objects: [], port: null }))}
          >
            {graph.name}
          </button>
          .
        </p>
      )}
      <Reach project={project} object={object} />
      <ActsOn project={project} object={object} />
      <PointSets object={object} />
      <CurveSettings object={object} />
      <div className="mt-1 flex flex-wrap gap-1.5">
        {object.mesh !== null && <ReplaceMesh project={project} object={object} />}
        <Button
          look="framed"
          onClick={() => {
            applyEdit(`Remove ${object.name}`, removeObjects([object.id]));
            send(objectsPicked([]));
          }}
        >
          Remove
        </Button>
      </div>
    </div>
  );
}

/** How much of the graphs moving it evaluates again. */
function Reach({ project, object }: { project: Project; object: ObjectRecord }) {
  const facets = facetGraph(project);
  const reached = downstreamOf(facets, facetVertex({ object: object.id, facet: 'channels' }));
  const nodes = new Set([...reached].map((v) => facets.units.get(v)?.node.record.id).filter(Boolean));
  const total = project.graphs.reduce((n, g) => n + g.nodes.length, 0);
  if (nodes.size === 0) return null;
  return (
    <p className="mt-1 border-l-2 border-line-strong bg-sunk px-2 py-1.5 text-xs leading-snug text-soft">
      Moving it evaluates{' '}
      <strong className="font-semibold text-ink">
        {nodes.size} of {total}
      </strong>{' '}
      nodes again.
    </p>
  );
}

interface TripleProps {
  label: string;
  help: string;
  unit: string;
  value: Vec3;
  range: [number, number];
  zero: number;
  onChange(v: Vec3, gesture: string | null): void;
}

function Triple({ label, help, unit, value, range, zero, onChange }: TripleProps) {
  const changed = value.some((v) => v !== zero);
  return (
    <div>
      <div className="flex items-baseline justify-between">
        <Hint text={help} side="left">
          <span className="text-soft">{label}</span>
        </Hint>
        <span className="flex items-center gap-1.5 text-xs text-faint">
          {changed && (
            <button
              type="button"
              className="hover:text-ink hover:underline"
              onClick={() => onChange([zero, zero, zero], null)}
            >
              reset
            </button>
          )}
          <span className="number">{unit}</span>
        </span>
      </div>
      <div className="mt-0.5 flex min-w-0 gap-1">
        {value.map((v, axis) => (
          <NumberField
            key={axis}
            label={`${label} ${'xyz'[axis]}`}
            prefix={'xyz'[axis]}
            value={v}
            range={{ min: range[0], max: range[1] }}
            onChange={(n, gesture) =>
              typeof n === 'number' &&
              onChange(value.map((old, i) => (i === axis ? n : old)) as unknown as Vec3, gesture)
            }
            onEnd={() => store.dispatch(gestureEnded())}
          />
        ))}
      </div>
    </div>
  );
}

const sameChannels = (o: ObjectRecord): boolean => JSON.stringify(o.channels) === JSON.stringify(o.rest);

function isBelow(project: Project, id: string, top: string): boolean {
  const parents = new Map(project.objects.map((o) => [o.id, o.parent]));
  for (let at: string | null = id, n = 0; at !== null && n < 1000; at = parents.get(at) ?? null, n++)
    if (at === top) return true;
  return false;
}
