import {
  kindOf,
  counted,
  downstreamOf,
  facetGraph,
  facetVertex,
  membersOf,
  renameObject,
  ROTATION_ORDERS,
  shownResults,
  type Channels,
  type ObjectRecord,
  type CommonFields,
  assetIdOf,
  type Project,
  type RotationOrder,
  changeObject,
} from '@umberfish/core';
import { useMemo, lazy, Suspense } from 'react';
import { applyEdit } from '../../state/store.ts';
import { Button } from '../../ui/button.tsx';
import { Choice } from '../../ui/choice.tsx';
import { TextField } from '../../ui/text-field.tsx';
import { ActsOn } from './acts-on.tsx';
import { ChannelParts } from './channel-parts.tsx';
import { CustomChannels } from './custom-channels.tsx';
import { WhoseTransform } from './whose-transform.tsx';
import { Triple } from './triple.tsx';
import { changePivot, hangUnder, removeFrozen } from '../scene/pose-commands.ts';
import { FieldRow } from './field-row.tsx';
import { ControlSettings } from './control-settings.tsx';
import { JointSettings } from './joint-settings.tsx';
import { CurveSettings } from './curve-settings.tsx';
import { PointSets } from './point-sets.tsx';
import { goToNode } from '../bench/paths.ts';
import { catalogue } from '../../state/catalogue.ts';

// Reading files is fetched with what reads them.
const ReplaceMesh = lazy(() => import('./replace-mesh.tsx').then((m) => ({ default: m.ReplaceMesh })));

/** Name, place in the scene and channels of an object. */
export function ObjectSettings({ project, object }: { project: Project; object: ObjectRecord }) {
  const parents = useMemo(() => parentsFor(project.objects, object), [project.objects, object]);
  const change = (label: string, part: Partial<CommonFields>, gesture: string | null = null) =>
    applyEdit(label, changeObject(object.id, part), gesture);
  const channels = (part: Partial<Channels>, label: string, gesture: string | null) =>
    change(label, { channels: { ...object.channels, ...part } }, gesture && `${gesture} ${object.id}`);
  const asset = project.assets.find((a) => a.id === assetIdOf(object));
  const result = shownResults(catalogue(), project).find((r) => r.object === object.id);
  const graph = project.graphs.find((g) => g.id === result?.graph);
  return (
    <div className="flex flex-col gap-1.5" data-settings-of={object.id}>
      <div className="mb-1 flex items-baseline gap-2">
        <TextField
          label="Name"
          value={object.name}
          onChange={(name) => name.trim() && applyEdit('Rename', renameObject(catalogue(), object.id, name.trim()))}
          className="!border-transparent !bg-transparent !px-0 font-serif text-sm font-semibold hover:!border-line-strong"
        />
        <span className="shrink-0 text-soft">{kindOf(object).label}</span>
      </div>
      <FieldRow
        label="Under"
        help="The object it hangs under; its channels are in that object's space. It keeps its place in the world when this changes."
      >
        <Choice
          label="Parent"
          value={object.parent ?? '-'}
          options={parents}
          onChange={(v) => void hangUnder([object.id], v === '-' ? null : v)}
        />
      </FieldRow>
      <ChannelParts object={object} />
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
        help="The place it turns and sizes about, in its own space. In the stage: hold Alt and drag the handle."
        unit="m"
        value={object.pivot}
        range={[-2, 2]}
        onChange={(pivot, g) => applyEdit('Pivot', changePivot(object.id, pivot), g && `${g} ${object.id}`)}
        zero={0}
      />
      <CustomChannels object={object} />
      {object.type === 'joint' && <JointSettings object={object} />}
      {(object.type === 'locator' || object.type === 'joint') && <ControlSettings project={project} object={object} />}
      <WhoseTransform object={object} />
      {asset && (
        <p className="text-xs leading-snug text-soft">
          {counted(asset.points, 'point')}, {counted(asset.faces, 'face')}, from {asset.origin}.
        </p>
      )}
      {result && graph && (
        <p className="text-xs leading-snug text-soft">
          Its result is made by{' '}
          <button type="button" className="text-umber underline" onClick={() => goToNode(result.node)}>
            {graph.name}
          </button>
          .
        </p>
      )}
      <Reach project={project} object={object} />
      <ActsOn project={project} object={object} />
      {object.type === 'mesh' && <PointSets object={object} />}
      {object.type === 'curve' && <CurveSettings object={object} />}
      <div className="mt-1 flex flex-wrap gap-1.5">
        {object.type === 'mesh' && object.mesh !== null && (
          <Suspense>
            <ReplaceMesh project={project} object={object} />
          </Suspense>
        )}
        <Button look="framed" onClick={() => void removeFrozen([object.id])}>
          Remove
        </Button>
      </div>
    </div>
  );
}

/** How much of the graphs moving it evaluates again. */
function Reach({ project, object }: { project: Project; object: ObjectRecord }) {
  const facets = facetGraph(catalogue(), project);
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

/** What an object can hang under: the world, and all that is neither it nor below it. */
function parentsFor(objects: readonly ObjectRecord[], object: ObjectRecord) {
  const below = new Set(membersOf(objects, object.id));
  const others = objects.filter((o) => o.id !== object.id && !below.has(o));
  return [{ value: '-', label: 'The world' }, ...others.map((o) => ({ value: o.id, label: o.name }))];
}
