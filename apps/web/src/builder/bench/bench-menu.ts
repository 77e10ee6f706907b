import {
  exposeInput,
  isGeometryKind,
  nodeTitle,
  pathOfInside,
  removeWires,
  resolveGraph,
  setInput,
  type PortRef,
} from '@umberfish/core';
import { catalogue } from '../../state/catalogue.ts';
import { applyEdit, selectGraph, store } from '../../state/store.ts';
import { nodesPicked, portPicked, sectionPicked } from '../../state/ui-slice.ts';
import type { MenuItems } from '../../ui/context-menu.tsx';
import type { MenuItem } from '../../ui/menu.tsx';
import type { PageCommand } from '../page-command.ts';
import { pinLooked } from '../readout/compare-bar.tsx';
import { looseEnd } from './catalogue.ts';
import { keepAsObject } from '../scene/keep-as-object.ts';
import { followLocator } from '../settings/follow-locator.ts';
import { commandsFor } from './command-list.ts';
import { offerFor, openPalette } from './palette.ts';
import type { BenchCommands } from './use-bench-commands.ts';

export const asItem = (command: PageCommand | null): MenuItem | null =>
  command && { label: command.label, keys: command.keys, onSelect: command.run };

/** What a right click on the bench offers: on a port, a card, a wire, a section or nothing. */
export function benchMenuAt(target: Element, at: { x: number; y: number }, commands: BenchCommands): MenuItems {
  const graph = selectGraph(store.getState());
  if (!graph) return [];
  const card = target.closest<HTMLElement>('[data-card]')?.dataset.card;
  const row = target.closest<HTMLElement>('[data-row-port]');
  if (card !== undefined && row?.dataset.rowPort !== undefined)
    return row.dataset.rowSide === 'in'
      ? inputMenu({ node: card, port: row.dataset.rowPort })
      : outputMenu({ node: card, port: row.dataset.rowPort }, at, commands);
  if (card !== undefined) {
    if (!store.getState().ui.nodes.includes(card)) store.dispatch(nodesPicked([card]));
    return commandsFor('card', commands).map(asItem);
  }
  const wire = target.closest<HTMLElement>('.react-flow__edge')?.dataset.id;
  if (wire !== undefined) return wireMenu(wire, commands);
  const section = target.closest<HTMLElement>('.react-flow__node-section')?.dataset.id;
  if (section !== undefined) {
    store.dispatch(sectionPicked(section));
    return [
      { label: 'Settings of the section', onSelect: () => store.dispatch(sectionPicked(section)) },
      null,
      ...commandsFor('bench', commands).map(asItem),
    ];
  }
  return commandsFor('bench', commands).map(asItem);
}

function outputMenu(ref: PortRef, at: { x: number; y: number }, commands: BenchCommands): MenuItems {
  const look = () => store.dispatch(portPicked(ref));
  const onward = () => {
    const graph = selectGraph(store.getState());
    const end = graph && looseEnd(graph, ref, 'output');
    const place = graph?.nodes.find((n) => n.id === ref.node)?.position;
    if (end) openPalette({ end, at: place ? { x: place[0] + 206, y: place[1] } : null, screen: at });
  };
  const graph = selectGraph(store.getState());
  const node = graph && resolveGraph(catalogue(), graph).get(ref.node);
  const kind = node?.outputs.find((o) => o.id === ref.port)?.kind;
  const keep =
    node && kind && isGeometryKind(kind) && kind !== 'curves' ? () => void keepAsObject(ref, nodeTitle(node)) : undefined;
  return [
    { label: 'Look at its values', onSelect: look },
    { label: 'Probe, or probe no more', keys: 'R', onSelect: () => commands.probe(ref) },
    { label: 'What takes it?…', onSelect: onward },
    ...(keep ? [{ label: 'Keep as an object', onSelect: keep }] : []),
    null,
    { label: 'Pin as A, to compare', keys: 'A', onSelect: () => (look(), pinLooked('pinA')) },
    { label: 'Pin as B', keys: 'B', onSelect: () => (look(), pinLooked('pinB')) },
  ];
}

function inputMenu(ref: PortRef): MenuItems {
  const graph = selectGraph(store.getState());
  const node = graph && resolveGraph(catalogue(), graph).get(ref.node);
  if (!graph || !node) return [];
  const wire = node.wires.get(ref.port);
  const port = node.inputs.find((i) => i.id === ref.port);
  const follow = port && followLocator(graph, port, ref);
  const isTyped = node.record.inputs[ref.port] !== undefined;
  return [
    { label: 'What gives one?…', onSelect: () => offerFor(graph, ref) },
    ...(follow ? [{ label: 'Let it follow a new locator', onSelect: follow }] : []),
    {
      label: 'Disconnect',
      disabled: !wire,
      onSelect: () =>
        applyEdit(
          'Disconnect',
          removeWires(
            graph.id,
            graph.wires.filter((w) => w.to.node === ref.node && w.to.port === ref.port).map((w) => w.id),
          ),
        ),
    },
    {
      label: 'Put the default back',
      disabled: !isTyped,
      onSelect: () => applyEdit('Reset', setInput(graph.id, ref.node, ref.port, undefined)),
    },
    ...(pathOfInside(graph.id) === undefined
      ? []
      : [
          {
            label: 'Make it a dial of the module',
            onSelect: () => applyEdit('Make a dial', exposeInput(catalogue(), graph.id, ref)),
          },
        ]),
  ];
}

function wireMenu(id: string, commands: BenchCommands): MenuItems {
  const graph = selectGraph(store.getState());
  const wire = graph?.wires.find((w) => w.id === id);
  if (!graph || !wire) return [];
  const { node, port } = wire.from;
  return [
    { label: 'Look at its values', onSelect: () => store.dispatch(portPicked({ node, port })) },
    { label: 'Probe, or probe no more', keys: 'R', onSelect: () => commands.probe({ node, port }) },
    null,
    { label: 'Remove the wire', keys: 'Del', onSelect: () => applyEdit('Remove wire', removeWires(graph.id, [id])) },
  ];
}
