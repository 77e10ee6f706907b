import {
  exposeInput,
  nodeTitle,
  pathOfInside,
  removeWires,
  resolveGraph,
  setInput,
  typedInput,
  type GraphRecord,
  type InputPort,
  type InputValue,
  type NodeRecord,
  type NumberSource,
  type Way,
} from '@umberfish/core';
import { Unplug } from 'lucide-react';
import { gestureEnded } from '../../state/project-slice.ts';
import { applyEdit, store, useSend } from '../../state/store.ts';
import { nodesPicked } from '../../state/ui-slice.ts';
import { AnimatedField } from '../../ui/animated-field.tsx';
import { ColourField } from '../../ui/colour-field.tsx';
import { Switch } from '../../ui/switch.tsx';
import { FieldRow } from './field-row.tsx';
import { followLocator } from './follow-locator.ts';
import { offerFor } from '../bench/palette.ts';
import { catalogue } from '../../state/catalogue.ts';

const endGesture = () => store.dispatch(gestureEnded());

interface InputFieldProps {
  graph: GraphRecord;
  node: NodeRecord;
  port: InputPort;
  /** What people get hold of, where a module says. */
  control?: Way['control'];
}

/** An input: where its wire comes from, or what is typed there. */
export function InputField({ graph, node, port, control }: InputFieldProps) {
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
  const expose =
    pathOfInside(graph.id) === undefined
      ? undefined
      : () => applyEdit('Make a dial', exposeInput(catalogue(), graph.id, { node: node.id, port: port.id }));
  const follow = followLocator(graph, port, { node: node.id, port: port.id });
  const value = typedInput(port, node);
  if (value === undefined) {
    return (
      <FieldRow label={port.label} help={port.help} onFollow={follow} onExpose={expose}>
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
      onFollow={follow}
      onExpose={expose}
      onReset={changed ? () => applyEdit(`Reset ${port.label}`, setInput(graph.id, node.id, port.id, undefined)) : undefined}
    >
      <div className="flex min-w-0 flex-1 flex-col">
        <div className="flex items-center">
          {control === 'colour' && isColour(value) ? (
            <ColourField label={port.label} value={value} onChange={write} onEnd={endGesture} />
          ) : (
            <ValueField port={port} value={value} onChange={write} />
          )}
        </div>
        {control === 'slider' && typeof value === 'number' && port.range && <Slider port={port} value={value} onChange={write} />}
      </div>
    </FieldRow>
  );
}

/** Three typed numbers; where one is keyed or an expression, it is shown as numbers. */
const isColour = (value: InputValue): value is readonly [number, number, number] =>
  Array.isArray(value) && value.every((v) => typeof v === 'number');

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

/** A dial with a length: from the least to the most that dragging reaches. */
function Slider({
  port,
  value,
  onChange,
}: {
  port: InputPort;
  value: number;
  onChange(v: number, gesture: string | null): void;
}) {
  const { min, max } = port.range ?? { min: 0, max: 1 };
  return (
    <input
      type="range"
      aria-label={`${port.label}, slider`}
      min={min}
      max={max}
      step={port.kind === 'integer' ? 1 : (max - min) / 1000}
      value={Math.min(max, Math.max(min, value))}
      onChange={(e) => onChange(Number(Number(e.target.value).toPrecision(6)), `slide ${port.id}`)}
      onPointerUp={endGesture}
      onKeyUp={endGesture}
      className="mt-0.5 h-3 w-full accent-umber"
    />
  );
}
