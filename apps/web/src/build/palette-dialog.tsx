import { Command } from 'cmdk';
import { Dialog } from 'radix-ui';
import { useReactFlow } from '@xyflow/react';
import { useEffect, useState } from 'react';
import { KIND_WORDS, type NodeDefinition, type PortRef } from '@umberfish/core';
import { addNode, connect, newId, nodeOf } from '../state/edits.ts';
import { applyEdit, selectGraph, store } from '../state/store.ts';
import { portPicked, nodesPicked, uiSet } from '../state/ui-slice.ts';
import { fittingPort, offered } from './bench/catalogue.ts';
import { everyNode, type FoundNode } from './bench/find.ts';
import { PALETTE_EVENT, type PaletteRequest } from './bench/palette.ts';

const HEADING =
  '[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:pb-1 [&_[cmdk-group-heading]]:text-xs [&_[cmdk-group-heading]]:text-faint';

/** A command of the page. */
export interface PageCommand {
  readonly label: string;
  readonly keys?: string;
  run(): void;
}

/** The palette: adds nodes and runs commands. With a wire in hand it offers only what fits. */
export function PaletteDialog({ commands }: { commands: readonly PageCommand[] }) {
  const [request, setRequest] = useState<PaletteRequest | null>(null);
  const [search, setSearch] = useState('');
  const flow = useReactFlow();

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
    window.addEventListener('keydown', key);
    return () => {
      window.removeEventListener(PALETTE_EVENT, open);
      window.removeEventListener('keydown', key);
    };
  }, []);

  const add = (definition: NodeDefinition) => {
    const graph = selectGraph(store.getState());
    setRequest(null);
    if (!graph || !request) return;
    const at =
      request.at ??
      freePlace(
        flow,
        graph.nodes.map((n) => n.position),
      );
    const node = nodeOf(definition.id, [at.x, at.y - 14], settingsFor(definition));
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
    store.dispatch(output ? portPicked({ node: node.id, port: output }) : nodesPicked([node.id]));
  };

  const nodes = request?.find ? [] : offered(request?.end ?? null);
  const seen = request && !request.end && (search !== '' || request.find) ? everyNode() : [];
  const goTo = (hit: FoundNode) => {
    setRequest(null);
    store.dispatch(uiSet({ graph: hit.graph, port: null }));
    store.dispatch(nodesPicked([hit.node]));
    window.setTimeout(() => void flow.fitView({ nodes: [{ id: hit.node }], padding: 1.5, maxZoom: 1 }), 120);
  };
  const groups = [...new Set(nodes.map((n) => n.group))];
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
          <Command label="Palette" filter={(value, search, keywords) => score(value, search, keywords)}>
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
              {groups.map((g) => (
                <Command.Group key={g} heading={g} className={HEADING}>
                  {nodes
                    .filter((n) => n.group === g)
                    .map((n) => (
                      <Command.Item
                        key={n.id}
                        value={n.title}
                        keywords={[...(n.keywords ?? []), n.summary]}
                        onSelect={() => add(n)}
                        className="flex cursor-pointer items-baseline gap-3 rounded px-2 py-1 data-[selected=true]:bg-sunk"
                      >
                        <span className="w-28 shrink-0 font-semibold">{n.title}</span>
                        <span className="truncate text-soft">{n.summary}</span>
                      </Command.Item>
                    ))}
                </Command.Group>
              ))}
              {seen.length > 0 && (
                <Command.Group heading="On the bench" className={HEADING}>
                  {seen.map((hit) => (
                    <Command.Item
                      key={hit.node}
                      data-found={hit.node}
                      value={`${hit.title} ${hit.node}`}
                      keywords={[...hit.words]}
                      onSelect={() => goTo(hit)}
                      className="flex cursor-pointer items-baseline gap-3 rounded px-2 py-1 data-[selected=true]:bg-sunk"
                    >
                      <span className="w-40 shrink-0 truncate font-semibold">{hit.title}</span>
                      <span className="min-w-0 flex-1 truncate text-soft">{hit.about}</span>
                      <span className="shrink-0 text-xs text-faint">{hit.graphName}</span>
                    </Command.Item>
                  ))}
                </Command.Group>
              )}
              {!request?.end && !request?.find && (
                <Command.Group heading="Commands" className={HEADING}>
                  {commands.map((c) => (
                    <Command.Item
                      key={c.label}
                      value={c.label}
                      onSelect={() => {
                        setRequest(null);
                        c.run();
                      }}
                      className="flex cursor-pointer justify-between rounded px-2 py-1 data-[selected=true]:bg-sunk"
                    >
                      {c.label} {c.keys && <span className="number text-xs text-faint">{c.keys}</span>}
                    </Command.Item>
                  ))}
                </Command.Group>
              )}
            </Command.List>
          </Command>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** Every word of the search must be found; titles count more than other words, beginnings more than middles. */
function score(value: string, search: string, keywords: readonly string[] = []): number {
  const title = value.toLowerCase();
  let total = 1;
  for (const word of search.toLowerCase().split(/\s+/).filter(Boolean)) {
    if (title.startsWith(word)) total *= 1;
    else if (title.includes(word)) total *= 0.8;
    else if (keywords.some((k) => k.toLowerCase().startsWith(word))) total *= 0.5;
    else if (keywords.some((k) => k.toLowerCase().includes(word))) total *= 0.2;
    else return 0;
  }
  return total;
}

/** New nodes that read an object take the picked one, or the only one there is. */
function settingsFor(definition: NodeDefinition): Record<string, string> {
  const { project, ui } = { project: store.getState().project.project, ui: store.getState().ui };
  const setting = definition.settings.find((s) => s.type === 'object');
  if (!project || setting?.type !== 'object' || setting.optional) return {};
  const wants = setting.takes === 'locator' ? 'locator' : 'mesh';
  const fitting = project.objects.filter((o) => o.type === wants);
  const chosen =
    fitting.find((o) => ui.objects.includes(o.id)) ?? (fitting.length === 1 ? fitting[0] : undefined);
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
  const at = picked
    ? { x: picked.position[0] + 200, y: picked.position[1] + 14 }
    : flow.screenToFlowPosition(middle);
  while (taken.some(([x, y]) => Math.abs(x - at.x) < 180 && Math.abs(y - at.y) < 190)) at.y += 50;
  return at;
}
