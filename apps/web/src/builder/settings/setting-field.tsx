import {
  CATALOGUE,
  channelName,
  channelsOf,
  fitsSetting,
  objectsById,
  removedById,
  resolveGraph,
  withRemoved,
  summaryAt,
  type Gradient,
  type GraphRecord,
  type Matrices,
  type Names,
  type NodeRecord,
  type Offsets,
  type Response,
  type Setting,
  type SettingValue,
  type Snapshot,
  setSetting,
} from '@umberfish/core';
import { gestureEnded } from '../../state/project-slice.ts';
import { applyEdit, selectProject, store, useStore } from '../../state/store.ts';
import { Button } from '../../ui/button.tsx';
import { Choice } from '../../ui/choice.tsx';
import { GradientEditor } from '../../ui/gradient-editor.tsx';
import { ResponseEditor } from '../../ui/response-editor.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Switch } from '../../ui/switch.tsx';
import { TextField } from '../../ui/text-field.tsx';
import { takeSnapshotNow } from '../scene/constrain.ts';
import { FieldRow } from './field-row.tsx';
import { FormulaField } from './formula-field.tsx';
import { NamesField } from './names-field.tsx';

/** Settings that commands write: there is no value to go back to. */
const WORKED_OUT: readonly Setting['type'][] = ['offsets', 'snapshot', 'matrices'];

const endGesture = () => store.dispatch(gestureEnded());

/** One setting of a node. */
export function SettingField({
  graph,
  node,
  setting,
  value,
}: {
  graph: GraphRecord;
  node: NodeRecord;
  setting: Setting;
  value: SettingValue;
}) {
  const project = useStore(selectProject);
  const offers = useAttributeNames(graph, node, setting);
  const kept = project && typeof value === 'string' ? removedById(project.removed).get(value) : undefined;
  const write = (v: SettingValue, gesture: string | null = null) =>
    applyEdit(`Change ${setting.label.toLowerCase()}`, setSetting(CATALOGUE, graph.id, node.id, setting.id, v), gesture);
  if (setting.type === 'response') {
    return (
      <div className="mt-1">
        <ResponseEditor value={value as Response} onChange={(v, gesture) => write(v, gesture)} />
      </div>
    );
  }
  if (setting.type === 'gradient') return <GradientEditor value={value as Gradient} onChange={write} onEnd={endGesture} />;
  if (setting.type === 'formula') return <FormulaField graph={graph} node={node} />;
  if (setting.type === 'names')
    return <NamesField graph={graph} node={node} setting={setting.id} side={setting.side} value={value as Names} />;
  const standard = setting.type === 'object' ? undefined : setting.default;
  const changed = standard !== undefined && !WORKED_OUT.includes(setting.type) && value !== standard;
  const reset = changed ? () => write(standard) : undefined;
  return (
    <FieldRow label={setting.label} help={setting.help} onReset={reset}>
      {setting.type === 'choice' && (
        <Choice label={setting.label} value={String(value)} options={setting.options} onChange={(v) => write(v)} />
      )}
      {setting.type === 'offsets' && (
        <OffsetsRow value={value as Offsets} onClear={() => write({ points: 0, index: [], moves: [] })} />
      )}
      {setting.type === 'toggle' && <Switch checked={value === true} onChange={(v) => write(v)} label={setting.label} />}
      {setting.type === 'number' && (
        <NumberField
          label={setting.label}
          unit={setting.unit}
          range={setting.range}
          whole
          value={Number(value)}
          onChange={(v, gesture) => typeof v === 'number' && write(v, gesture && `${gesture} ${node.id}`)}
          onEnd={endGesture}
        />
      )}
      {setting.type === 'channel' && <ChannelChoice node={node} setting={setting} value={String(value)} onChange={write} />}
      {setting.type === 'matrices' && (
        <CountRow count={(value as Matrices).matrices.length} onClear={() => write(setting.default)}>
          Leave them out
        </CountRow>
      )}
      {setting.type === 'snapshot' && <SnapshotRow graph={graph} node={node} taken={value as Snapshot | null} />}
      {setting.type === 'text' && (
        <TextField label={setting.label} value={String(value ?? '')} onChange={(v) => write(v)} offers={offers} />
      )}
      {setting.type === 'object' && (
        <Choice
          label={setting.label}
          value={typeof value === 'string' ? value : setting.optional ? '-' : ''}
          empty={typeof value === 'string' ? 'an object that is gone' : 'Choose…'}
          options={[
            ...(setting.optional ? [{ value: '-', label: 'No object' }] : []),
            ...(project?.objects ?? []).filter((o) => fitsSetting(o, setting.takes)).map((o) => ({ value: o.id, label: o.name })),
            ...(kept ? [{ value: kept.object.id, label: `${kept.object.name} (removed)` }] : []),
          ]}
          onChange={(v) => write(v === '-' ? null : v)}
        />
      )}
    </FieldRow>
  );
}

/** Attributes of the mesh that arrives, for settings that name one. */
function useAttributeNames(graph: GraphRecord, node: NodeRecord, setting: Setting) {
  const port = setting.type === 'text' ? setting.attributeOf : undefined;
  const source = port && resolveGraph(CATALOGUE, graph).get(node.id)?.wires.get(port)?.from;
  const known = useStore((s) => (source ? summaryAt(s.evaluation.reports.get(source.node), source.port)?.attributes : undefined));
  return known?.map((a) => ({ value: a.name, about: `${a.type} on ${a.on}s` }));
}

/** The channels of the object in another setting; only its own ones where none need be chosen. */
function ChannelChoice({
  node,
  setting,
  value,
  onChange,
}: {
  node: NodeRecord;
  setting: Extract<Setting, { type: 'channel' }>;
  value: string;
  onChange(v: string): void;
}) {
  const project = useStore(selectProject);
  const object = project && objectsById(withRemoved(project).objects).get(String(node.settings[setting.of]));
  if (!object) return <span className="text-xs text-faint">choose the object first</span>;
  const optional = setting.default === '';
  const offered = optional ? object.custom.map((c) => c.id) : channelsOf(object);
  return (
    <Choice
      label={setting.label}
      value={value === '' ? '-' : value}
      empty="a channel that is gone"
      options={[
        ...(optional ? [{ value: '-', label: 'None' }] : []),
        ...offered.map((c) => ({ value: c, label: channelName(object, c) })),
      ]}
      onChange={(v) => onChange(v === '-' ? '' : v)}
    />
  );
}

function SnapshotRow({ graph, node, taken }: { graph: GraphRecord; node: NodeRecord; taken: Snapshot | null }) {
  return (
    <div className="flex flex-1 flex-wrap items-center gap-1">
      <span className="flex-1 text-xs text-soft">{taken ? `of ${taken.drivers.length} taken` : 'not taken yet'}</span>
      {node.settings.object !== null && (
        <Button look="framed" className="!h-6 !px-2 text-xs" onClick={() => void takeSnapshotNow(graph.id, node.id)}>
          Take snapshot now
        </Button>
      )}
    </div>
  );
}

function OffsetsRow({ value, onClear }: { value: Offsets; onClear(): void }) {
  const { length } = value.index;
  if (length === 0)
    return <span className="text-xs leading-snug text-soft">None yet: click a point in the stage and drag its handle.</span>;
  return (
    <CountRow count={length} onClear={onClear}>
      Put all back
    </CountRow>
  );
}

/** How many there are of something, and a button that takes them away. */
function CountRow({ count, onClear, children }: { count: number; onClear(): void; children: string }) {
  return (
    <>
      <span className="number flex-1 pr-2 text-right">{count}</span>
      <Button look="framed" className="!h-6 !px-2 text-xs" onClick={onClear}>
        {children}
      </Button>
    </>
  );
}
