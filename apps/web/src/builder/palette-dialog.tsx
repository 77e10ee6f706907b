import {
  kindOf,
  typeOfUse,
  KIND_WORDS,
  type NodeDefinition,
  type PortRef,
  addNode,
  connect,
  newId,
  nodeOf,
  idInGraph,
  pathOfInside,
} from '@umberfish/core';
import { Command } from 'cmdk';
import { Dialog } from 'radix-ui';
import { useReactFlow } from '@xyflow/react';
import { useEffect, useState } from 'react';
import { applyEdit, selectGraph, store } from '../state/store.ts';
import { portPicked, nodesPicked, remarked, uiSet } from '../state/ui-slice.ts';
import { catalogue } from '../state/catalogue.ts';
import { useLibrary } from '../library/use-library.ts';
import { putOnPicked, usableModules, type Usable } from './modules/library-commands.ts';
import { circleOf } from './modules/commands.ts';
import { fittingPort, offered } from './bench/catalogue.ts';
import { everyNode, type FoundNode } from './bench/find.ts';
import type { PageCommand } from './page-command.ts';
import { matching, type PaletteEntry } from './palette-entries.ts';
import { PALETTE_EVENT, type PaletteRequest } from './bench/palette.ts';

const HEADING =
  '[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:pb-1 [&_[cmdk-group-heading]]:text-xs [&_[cmdk-group-heading]]:text-faint';

/** The palette: adds nodes and runs commands. With a wire in hand it offers only what fits. */
export function PaletteDialog({ commands }: { commands: readonly PageCommand[] }) {
  const [request, setRequest] = useState<PaletteRequest | null>(null);
  const [search, setSearch] = useState('');
  const flow = useReactFlow();
  // So that it knows of the library's modules.
  useLibrary();

  useEffect(() => {
    const open = (e: Event) => {
      setSearch('');
      setRequest((e as CustomEvent<PaletteRequest>).detail);
    };
    const key = (e: KeyboardEvent) => {
      if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === 'k') {
        e.preventDefault();
        setSearch('');
        setRequest((now) => (now ? null : { end: null, at: null }));
      }
    };
    window.addEventListener(PALETTE_EVENT, open);
    // Before fields see it: they keep their keys to themselves, but the palette opens from everywhere.
    window.addEventListener('keydown', key, true);
    return () => {
      window.removeEventListener(PALETTE_EVENT, open);
      window.removeEventListener('keydown', key, true);
    };
  }, []);

  const add = (definition: NodeDefinition) => {
    const graph = selectGraph(store.getState());
    if (!graph || !request) return;
    const circle = circleOf(graph.id, definition.id);
    if (circle) return void store.dispatch(remarked({ text: circle, kind: 'wrong' }));
    const at =
      request.at ??
      freePlace(
        flow,
        graph.nodes.map((n) => n.position),
      );
    const node = nodeOf(definition, [at.x, at.y - 14], settingsFor(definition));
    const gesture = newId('step');
    applyEdit(`Add ${definition.title}`, addNode(graph.id, node), gesture);
    const { end } = request;
    const port = end ? fittingPort(definition, end) : undefined;
    if (end && port) {
      const mine: PortRef = { node: node.id, port };
      applyEdit(
        `Add ${definition.title}`,
        end.side === 'output' ? connect(graph.id, end.ref, mine) : connect(graph.id, mine, end.ref),
        gesture,
      );
    }
    const output = definition.outputs(node.settings)[0]?.id;
    const id = idInGraph(graph.id, node.id);
    store.dispatch(output ? portPicked({ node: id, port: output }) : nodesPicked([id]));
  };

  const addFromLibrary = (usable: Usable) => {
    const brought = usable.bring();
    if (!brought) return;
    applyEdit(`Bring in ${usable.name}`, () => brought.project);
    const definition = catalogue().get(typeOfUse(brought.module));
    if (definition) add(definition);
  };

  const goTo = (hit: FoundNode) => {
    store.dispatch(uiSet({ graph: hit.graph, port: null }));
    store.dispatch(nodesPicked([hit.node]));
    window.setTimeout(() => void flow.fitView({ nodes: [{ id: hit.node }], padding: 1.5, maxZoom: 1 }), 120);
  };
  const entries: PaletteEntry[] = [];
  if (request && !request.find) {
    for (const n of offered(request.end)) {
      const words = [...(n.keywords ?? []), n.summary];
      entries.push({
        key: n.id,
        heading: n.group,
        title: n.title,
        about: n.summary,
        words,
        run: () => add(n),
      });
    }
  }
  if (request && !request.end && !request.find) {
    const picked = store.getState().ui.objects.length;
    for (const usable of usableModules()) {
      const { key, name, summary, tags, wrong, carries } = usable;
      // What more has to be picked for a constraint is said where one looks for it.
      if (picked > 0 && (!wrong || carries))
        entries.unshift({
          key: `put ${key}`,
          heading: 'Put on what is picked',
          title: name,
          about: wrong ?? summary,
          words: [...tags, summary, 'put on'],
          run: () => putOnPicked(usable),
        });
      if (!catalogue().has(`module:${key}`))
        entries.push({
          key: `library ${key}`,
          heading: 'Modules of the library',
          title: name,
          about: summary,
          words: [...tags, summary],
          run: () => addFromLibrary(usable),
        });
    }
  }
  if (request && !request.end && (search !== '' || request.find)) {
    for (const hit of everyNode()) {
      const { node, title, about, graphName: note, words } = hit;
      entries.push({
        key: node,
        heading: 'On the bench',
        title,
        about,
        note,
        words,
        node,
        run: () => goTo(hit),
      });
    }
  }
  if (request && !request.end && !request.find) {
    for (const { label, keys, run } of commands) entries.push({ key: label, heading: 'Commands', title: label, note: keys, run });
  }
  return (
    <Dialog.Root open={request !== null} onOpenChange={(o) => !o && setRequest(null)}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/15" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-[14vh] left-1/2 z-50 w-[520px] max-w-[92vw] -translate-x-1/2 overflow-hidden rounded-md border border-line-strong bg-raised"
          data-palette
        >
          <Dialog.Title className="sr-only">Add a node or run a command</Dialog.Title>
          <Command label="Palette" shouldFilter={false}>
            <Command.Input
              autoFocus
              value={search}
              onValueChange={setSearch}
              placeholder={
                request?.find
                  ? 'Title, type, attribute or message…'
                  : request?.end
                    ? `What ${request.end.side === 'output' ? 'takes' : 'gives'} ${KIND_WORDS[request.end.kind]}?`
                    : 'Find or add…'
              }
              className="h-11 w-full border-b border-line bg-transparent px-4 text-[15px] outline-none"
            />
            <Command.List className="max-h-[52vh] overflow-auto p-1.5">
              <Command.Empty className="p-4 text-soft">
                Nothing is called that. Try a trade word: distance, noise, curve…
              </Command.Empty>
              {matching(entries, search).map((group) => (
                <Command.Group key={group.heading} heading={group.heading} className={HEADING}>
                  {group.entries.map((e) => (
                    <Command.Item
                      key={e.key}
                      data-found={e.node}
                      value={e.key}
                      onSelect={() => {
                        setRequest(null);
                        e.run();
                      }}
                      className="flex cursor-pointer items-baseline gap-3 rounded px-2 py-1 data-[selected=true]:bg-sunk"
                    >
                      <span className={e.about ? 'w-32 shrink-0 truncate font-semibold' : 'flex-1'}>{e.title}</span>
                      {e.about && <span className="min-w-0 flex-1 truncate text-soft">{e.about}</span>}
                      {e.note && <span className="number shrink-0 text-xs text-faint">{e.note}</span>}
                    </Command.Item>
                  ))}
                </Command.Group>
              ))}
            </Command.List>
          </Command>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** New nodes that read an object take the picked one, or the only one there is. */
function settingsFor(definition: NodeDefinition): Record<string, string> {
  const { project, ui } = { project: store.getState().project.project, ui: store.getState().ui };
  const setting = definition.settings.find((s) => s.type === 'object');
  // Nothing inside of a module points at a scene.
  if (!project || setting?.type !== 'object' || setting.optional || (ui.graph !== null && pathOfInside(ui.graph) !== undefined))
    return {};
  // Of all that would do, those that are just that.
  const fitting = project.objects.filter((o) => kindOf(o).fits[0] === (setting.takes === 'any' ? 'mesh' : setting.takes));
  const chosen = fitting.find((o) => ui.objects.includes(o.id)) ?? (fitting.length === 1 ? fitting[0] : undefined);
  return chosen ? { [setting.id]: chosen.id } : {};
}

/** Right of the picked node, else the middle of what is seen; moved down until no node is there. */
function freePlace(
  flow: ReturnType<typeof useReactFlow>,
  taken: readonly (readonly [number, number])[],
): { x: number; y: number } {
  const box = document.querySelector('[data-bench] .react-flow')?.getBoundingClientRect();
  const middle = {
    x: (box?.left ?? 0) + (box?.width ?? 800) / 2 - 80,
    y: (box?.top ?? 0) + (box?.height ?? 600) / 2 - 80,
  };
  const state = store.getState();
  const picked = selectGraph(state)?.nodes.find((n) => n.id === state.ui.nodes[0]);
  const at = picked ? { x: picked.position[0] + 200, y: picked.position[1] + 14 } : flow.screenToFlowPosition(middle);
  while (taken.some(([x, y]) => Math.abs(x - at.x) < 180 && Math.abs(y - at.y) < 190)) at.y += 50;
  return at;
}
