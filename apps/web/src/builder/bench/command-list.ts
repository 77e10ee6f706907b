import { usedKey } from '@umberfish/core';
import { selectGraph, store } from '../../state/store.ts';
import { goOut, lookInside, makeModule, partUse, unpackPicked } from '../modules/commands.ts';
import type { PageCommand } from '../page-command.ts';
import { openPalette } from './palette.ts';
import type { BenchCommands } from './use-bench-commands.ts';

/** What can be done on the bench, once: the palette, menus and buttons all say and do the same. */
export const benchCommandList = (c: BenchCommands) =>
  ({
    add: { label: 'Add a node…', keys: 'Ctrl K', run: () => openPalette({ end: null, at: null }) },
    preview: { label: 'Preview in the stage, on or off', keys: 'P', run: c.preview },
    probe: { label: 'Probe the picked output or wire', keys: 'R', run: () => c.probe() },
    skip: { label: 'Skip, or skip no more', keys: 'S', run: c.skip },
    inside: { label: 'Look inside the picked module', keys: 'Enter', run: () => lookInside(store.getState().ui.nodes[0] ?? '') },
    leave: { label: 'Leave the module', keys: 'U', run: goOut },
    module: { label: 'Make a module of the picked cards…', keys: 'M', run: makeModule },
    own: { label: 'Give the picked use an own copy of its module', run: partUse },
    unpack: { label: 'Unpack the picked module into cards', run: unpackPicked },
    replace: { label: 'Replace by another kind…', keys: 'X', run: c.replace },
    section: { label: 'Put in a section, or take out', keys: 'N', run: c.section },
    takeOut: { label: 'Take out of its chain', keys: 'Alt drag', run: c.takeOut },
    remove: { label: 'Remove', keys: 'Del', run: c.remove },
    tidy: { label: 'Tidy along the wires', keys: 'L', run: c.tidy },
    fit: { label: 'Frame picked nodes, or all', keys: 'F', run: c.fit },
    find: {
      label: 'Find on the bench…',
      keys: 'Ctrl F',
      run: () => openPalette({ end: null, at: null, find: true }),
    },
    all: { label: 'Pick all cards', keys: 'Ctrl A', run: c.pickAll },
    map: { label: 'Map of the graph', run: c.toggleMap },
  }) satisfies Record<string, PageCommand>;

type Name = keyof ReturnType<typeof benchCommandList>;

const ON_CARD: readonly (Name | null)[] = ['preview', 'skip', 'replace', null, 'section', 'module', 'takeOut', null, 'remove'];
const ON_USE: readonly (Name | null)[] = ['inside', 'own', 'unpack', null, ...ON_CARD];
const ON_BENCH: readonly (Name | null)[] = ['add', 'find', 'all', null, 'tidy', 'fit', 'map'];

/** What is offered on a card, and on the empty bench. */
export function commandsFor(what: 'card' | 'bench', commands: BenchCommands): readonly (PageCommand | null)[] {
  const all = benchCommandList(commands);
  const node = selectGraph(store.getState())?.nodes.find((n) => n.id === store.getState().ui.nodes[0]);
  const names = what === 'bench' ? ON_BENCH : node && usedKey(node) !== undefined ? ON_USE : ON_CARD;
  return names.map((name) => name && all[name]);
}
