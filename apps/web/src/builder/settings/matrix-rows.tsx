import { GripVertical } from 'lucide-react';
import { useState } from 'react';
import { nodeTitle, reordered, resolveGraph, type GraphRecord, type ResolvedNode } from '@umberfish/core';
import { applyEdit } from '../../state/store.ts';
import { catalogue } from '../../state/catalogue.ts';

/** The matrices of a product as a sentence from the child outwards; its rows are dragged into another order. */
export function MatrixRows({ graph, node }: { graph: GraphRecord; node: ResolvedNode }) {
  const [dragged, setDragged] = useState<string | null>(null);
  const [over, setOver] = useState<string | null>(null);
  const nodes = resolveGraph(catalogue(), graph);
  const ports = node.inputs.map((p) => p.id);
  const move = (from: string, to: string) => {
    if (from === to) return;
    const others = ports.filter((p) => p !== from);
    others.splice(ports.indexOf(to), 0, from);
    applyEdit('Reorder matrices', (p) => reordered(p, node, ports, others));
  };
  return (
    <ol aria-label="Order" className="mb-1 rounded border border-line bg-sunk py-1 text-xs">
      {ports.map((port, i) => {
        const from = nodes.get(node.wires.get(port)?.from.node ?? '');
        return (
          <li
            key={port}
            draggable
            data-matrix-row={port}
            tabIndex={0}
            aria-label={`${i === 0 ? 'First' : 'Then'} ${from ? nodeTitle(from) : 'nothing'}; arrow keys move it`}
            onKeyDown={(e) => {
              const to = ports[i + (e.key === 'ArrowDown' ? 1 : e.key === 'ArrowUp' ? -1 : 0)] as string | undefined;
              if (!to || to === port) return;
              e.preventDefault();
              move(port, to);
            }}
            onDragStart={() => setDragged(port)}
            onDragEnd={() => {
              setDragged(null);
              setOver(null);
            }}
            onDragOver={(e) => {
              e.preventDefault();
              setOver(port);
            }}
            onDrop={() => dragged && move(dragged, port)}
            className={`flex h-6 cursor-grab items-center gap-1 px-1.5 ${over === port && dragged !== null ? 'bg-pick-wash' : ''}`}
          >
            <GripVertical size={12} className="text-faint" />
            <span className="w-8 text-soft">{i === 0 ? 'first' : 'then'}</span>
            <span className="min-w-0 flex-1 truncate">{from ? nodeTitle(from) : 'nothing yet'}</span>
          </li>
        );
      })}
    </ol>
  );
}
