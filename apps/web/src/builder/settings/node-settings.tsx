import { moduleKey, usedKey } from '@umberfish/core';
import {
  nodeTitle,
  problemWords,
  resolveGraph,
  typedInput,
  type GraphRecord,
  type InputPort,
  type InputValue,
  type NodeRecord,
  type NumberSource,
  changeNode,
  removeWires,
  setInput,
} from '@umberfish/core';
import { Unplug } from 'lucide-react';
import { gestureEnded } from '../../state/project-slice.ts';
import { applyEdit, store, useSend, useStore } from '../../state/store.ts';
import { nodesPicked } from '../../state/ui-slice.ts';
import { AnimatedField } from '../../ui/animated-field.tsx';
import { Switch } from '../../ui/switch.tsx';
import { TextField } from '../../ui/text-field.tsx';
import { FieldRow } from './field-row.tsx';
import { offerFor } from '../bench/palette.ts';
import { MatrixRows } from './matrix-rows.tsx';
import { SettingField } from './setting-field.tsx';
import { ModuleSection } from '../modules/module-section.tsx';
import { catalogue } from '../../state/catalogue.ts';

const endGesture = () => store.dispatch(gestureEnded());

/** Title, inputs and settings of a node. */
export function NodeSettings({ graph, node }: { graph: GraphRecord; node: NodeRecord }) {
  const resolved = resolveGraph(catalogue(), graph).get(node.id);
  const report = useStore((s) => s.evaluation.reports.get(node.id));
  const module = useStore((s) => s.project.project?.modules.find((m) => moduleKey(m) === usedKey(node)));
  if (!resolved) return null;
  const { definition } = resolved;
  const problems = report?.problems ?? [];
  return (
    <div className="flex flex-col gap-1.5" data-settings-of={node.id}>
      <div className="mb-1">
        <TextField
          label="Title"
          value={node.title || nodeTitle(resolved)}
          onChange={(title) =>
            applyEdit('Rename node', changeNode(graph.id, node.id, { title: title === definition?.title ? '' : title }))
          }
          className="!border-transparent !bg-transparent !px-0 font-serif text-sm font-semibold hover:!border-line-strong"
        />
        <p className="text-xs leading-snug text-soft">
          {definition ? `${node.title ? `${definition.title}. ` : ''}${definition.summary}` : `Unknown type "${node.type}".`}
        </p>
      </div>
      {module && <ModuleSection path={node.id} module={module} />}
      {definition?.inOrder && <MatrixRows graph={graph} node={resolved} />}
      {resolved.inputs.map((port) => (
        <InputField key={port.id} graph={graph} node={node} port={port} />
      ))}
      {definition?.settings
        .filter((s) => s.shown?.(resolved.settings) ?? true)
        .map((s) => (
          <SettingField key={s.id} graph={graph} node={node} setting={s} value={resolved.settings[s.id]} />
        ))}
      {problems.map((p, i) => (
        <p
          key={i}
          className={`mt-1 border-l-2 py-1 pl-2 text-xs leading-snug ${p.severity === 'error' ? 'border-rust text-rust' : 'border-line-strong text-soft'}`}
        >
          {problemWords(p)}
        </p>
      ))}
    </div>
  );
}

function InputField({ graph, node, port }: { graph: GraphRecord; node: NodeRecord; port: InputPort }) {
  const send = useSend();
  const nodes = resolveGraph(catalogue(), graph);
  const wire = nodes.get(node.id)?.wires.get(port.id);
  if (wire) {
    const source = nodes.get(wire.from.node);
    return (
      <FieldRow label={port.label} help={port.help}>
        <button
          type="button"
          className="min-w-0 flex-1 truncate text-left text-umber hover:underline"
          onClick={() => send(nodesPicked([wire.from.node]))}
        >
          from {source ? nodeTitle(source) : 'a lost node'}
        </button>
        <button
          type="button"
          aria-label={`Disconnect ${port.label}`}
          className="p-1 text-faint hover:text-ink"
          onClick={() => applyEdit('Disconnect', removeWires(graph.id, [wire.id]))}
        >
          <Unplug size={13} />
        </button>
      </FieldRow>
    );
  }
  const value = typedInput(port, node);
  if (value === undefined) {
    return (
      <FieldRow label={port.label} help={port.help}>
        {port.optional ? (
          <span className="text-faint">not connected</span>
        ) : (
          <button
            type="button"
            className="text-rust hover:underline"
            onClick={() => offerFor(graph, { node: node.id, port: port.id })}
          >
            needs a wire: what gives one?
          </button>
        )}
      </FieldRow>
    );
  }
  const write = (v: InputValue, gesture: string | null) =>
    applyEdit(`Change ${port.label}`, setInput(graph.id, node.id, port.id, v), gesture && `${gesture} ${node.id}`);
  const changed = node.inputs[port.id] !== undefined && JSON.stringify(node.inputs[port.id]) !== JSON.stringify(port.default);
  return (
    <FieldRow
      label={port.label}
      help={port.help}
      onReset={changed ? () => applyEdit(`Reset ${port.label}`, setInput(graph.id, node.id, port.id, undefined)) : undefined}
    >
      <ValueField port={port} value={value} onChange={write} />
    </FieldRow>
  );
}

function ValueField({
  port,
  value,
  onChange,
}: {
  port: InputPort;
  value: InputValue;
  onChange(v: InputValue, gesture: string | null): void;
}) {
  if (typeof value === 'boolean') return <Switch checked={value} onChange={(v) => onChange(v, null)} label={port.label} />;
  if (typeof value === 'string') return null;
  if (Array.isArray(value)) {
    const parts = value as unknown as readonly [NumberSource, NumberSource, NumberSource];
    return (
      <div className="flex min-w-0 flex-1 flex-col gap-1">
        {parts.map((part, axis) => (
          <AnimatedField
            key={axis}
            label={`${port.label} ${'xyz'[axis]}`}
            prefix={'xyz'[axis]}
            unit={port.unit}
            range={port.range}
            expressions
            value={part}
            onChange={(v, gesture) => onChange(parts.map((p, i) => (i === axis ? v : p)) as unknown as InputValue, gesture)}
            onEnd={endGesture}
          />
        ))}
      </div>
    );
  }
  return (
    <AnimatedField
      label={port.label}
      unit={port.unit}
      range={port.range}
      whole={port.kind === 'integer'}
      expressions
      value={value as NumberSource}
      onChange={onChange}
      onEnd={endGesture}
    />
  );
}
