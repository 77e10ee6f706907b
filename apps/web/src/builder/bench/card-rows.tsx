import {
  feedOneAxis,
  KIND_TAGS,
  resolveGraph,
  SHOWN_PORT,
  summaryAt,
  wireNote,
  type InputPort,
  type InputValue,
  type NodeReport,
  type OutputPort,
  type PortKind,
} from '@umberfish/core';
import { Handle, Position } from '@xyflow/react';
import { catalogue } from '../../state/catalogue.ts';
import { applyEdit, selectGraph, store, useSend, useStore } from '../../state/store.ts';
import { portPicked } from '../../state/ui-slice.ts';
import { formatCount, plainNumber } from '../../ui/format.ts';
import { Hint } from '../../ui/hint.tsx';
import { Menu } from '../../ui/menu.tsx';
import { offerFor } from './palette.ts';

/** An input: its name and kind, and what is typed there or what its wire does. */
export function InputRow({
  node,
  port,
  connected,
  value,
}: {
  node: string;
  port: InputPort;
  connected: boolean;
  value: InputValue | undefined;
}) {
  const note = useStore((s) => {
    const graph = selectGraph(s);
    const wire = graph && connected ? resolveGraph(catalogue(), graph).get(node)?.wires.get(port.id) : undefined;
    if (!graph || !wire) return undefined;
    const { reports } = s.evaluation;
    const came = summaryAt(reports.get(wire.from.node), wire.from.port);
    const made = Object.values(reports.get(node)?.outputs ?? {});
    const makesMany = made.some((o) => o.form !== 'single');
    return wireNote(catalogue(), graph, wire, came && { form: came.form, kind: came.kind, makesMany });
  });
  return (
    <div className="relative flex h-[18px] items-center gap-1.5 pl-3 pr-2" data-row-port={port.id} data-row-side="in">
      <Handle
        type="target"
        position={Position.Left}
        id={port.id}
        className="tick !left-[-5px] !h-[16px] !w-[12px]"
        data-port={port.id}
        data-lanes="one"
      />
      <Hint text={port.help} side="left">
        <span className={value === undefined || connected ? 'truncate' : 'max-w-[78px] shrink-0 truncate'}>{port.label}</span>
      </Hint>
      {!note && <span className="number text-[10px] text-faint">{KIND_TAGS[port.kind]}</span>}
      {note && <SpreadNote node={node} port={port.id} note={note} />}
      {!connected && value !== undefined && (
        <span className="number ml-auto truncate pl-1 text-[10.5px] text-soft">{short(value, port.unit)}</span>
      )}
      {!connected && value === undefined && !port.optional && (
        <button
          type="button"
          title="Nothing arrives here. Click for nodes that give it."
          className="nodrag ml-auto text-[10.5px] text-rust hover:underline"
          onClick={() => {
            const graph = selectGraph(store.getState());
            if (graph) offerFor(graph, { node, port: port.id });
          }}
        >
          needed
        </button>
      )}
    </div>
  );
}

function short(value: InputValue, unit: string | undefined): string {
  const one = (v: unknown) => (typeof v === 'number' ? plainNumber(v) : typeof v === 'object' && v ? 'ƒ' : String(v));
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  // A list has `keys` too, of another kind.
  if (typeof value === 'object' && !Array.isArray(value)) return 'expression' in value ? String(value.expression) : 'keyed';
  const text = Array.isArray(value) ? value.map(one).join(' ') : one(value);
  return unit ? `${text} ${unit}` : text;
}

/** An output: how many values came, of which kind, and its name, which shows them. */
export function OutputRow({
  node,
  port,
  kind,
  report,
  picked,
}: {
  node: string;
  port: OutputPort;
  kind: PortKind;
  report: NodeReport | undefined;
  picked: boolean;
}) {
  const send = useSend();
  const summary = summaryAt(report, port.id);
  const single =
    summary?.form === 'single' && summary.single?.length === 1
      ? kind === 'integer'
        ? formatCount(summary.single[0])
        : plainNumber(Number(summary.single[0].toFixed(3)))
      : undefined;
  return (
    <div
      className="relative flex h-[18px] items-center justify-end gap-1.5 pr-3 pl-2"
      data-row-port={port.id}
      data-row-side="out"
    >
      <span className="number mr-auto truncate text-[10.5px] text-soft">
        {summary && (summary.form === 'single' ? single : summary.form === 'falloff' ? '' : formatCount(summary.count))}
      </span>
      <span className="number text-[10px] text-faint">{KIND_TAGS[kind]}</span>
      <Hint text={`${port.help} Click to see its values.`} side="right">
        <button
          type="button"
          data-output={port.id}
          onClick={() => send(portPicked({ node, port: port.id }))}
          className={`nodrag truncate rounded-sm px-0.5 hover:underline ${picked ? 'bg-pick-wash font-semibold text-pick' : ''}`}
        >
          {port.label}
        </button>
      </Hint>
      <Handle
        type="source"
        position={Position.Right}
        id={port.id}
        className="tick !right-[-5px] !h-[16px] !w-[12px]"
        data-port={port.id}
        data-lanes={summary?.form === 'column' ? 'two' : 'one'}
      />
    </div>
  );
}

/** Where a card puts what it shows. */
export function Shown({ node, report, picked }: { node: string; report: NodeReport | undefined; picked: boolean }) {
  const send = useSend();
  const summary = summaryAt(report, SHOWN_PORT);
  return (
    <div className="flex h-[18px] items-center justify-between pr-2 pl-3 text-soft">
      <button
        type="button"
        data-output={SHOWN_PORT}
        onClick={() => send(portPicked({ node, port: SHOWN_PORT }))}
        className={`nodrag rounded-sm hover:underline ${picked ? 'bg-pick-wash font-semibold text-pick' : ''}`}
      >
        {report?.failed ? 'nothing to show' : 'on the stage'}
      </button>
      {summary && <span className="number text-[10.5px]">{formatCount(summary.count)}</span>}
    </div>
  );
}

/** Says that a value is spread; one number for three axes can be sent to one of them instead. */
function SpreadNote({ node, port, note }: { node: string; port: string; note: string }) {
  const look = 'number ml-auto text-[10.5px] whitespace-nowrap text-rust';
  if (note !== '1 → xyz') {
    return (
      <Hint side="left" text="One value serves every element of the column.">
        <span data-note className={look}>
          {note}
        </span>
      </Hint>
    );
  }
  const feed = (axis: 'x' | 'y' | 'z') => () => {
    const graph = selectGraph(store.getState());
    const wire = graph ? resolveGraph(catalogue(), graph).get(node)?.wires.get(port) : undefined;
    if (graph && wire) applyEdit(`Feed only ${axis}`, feedOneAxis(graph.id, wire.id, axis));
  };
  return (
    <Menu
      trigger={
        <button
          type="button"
          data-note
          title="One number serves x, y and z alike. Click to feed one axis only."
          className={`nodrag hover:underline ${look}`}
        >
          {note}
        </button>
      }
      items={(['x', 'y', 'z'] as const).map((axis) => ({ label: `Feed only ${axis}`, onSelect: feed(axis) }))}
    />
  );
}
