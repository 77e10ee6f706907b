import { KIND_WORDS, nodeOf, settingsOf, typeOfUse, type NodeDefinition } from '@umberfish/core';
import { Command } from 'cmdk';
import { Dialog } from 'radix-ui';
import { useReactFlow } from '@xyflow/react';
import { useEffect, useMemo, useState, type CSSProperties } from 'react';
import { applyEdit, store } from '../state/store.ts';
import { nodesPicked, uiSet } from '../state/ui-slice.ts';
import { catalogue } from '../state/catalogue.ts';
import { actOnPicked } from './scene/put-node-on.ts';
import { useLibrary } from '../library/use-library.ts';
import { putOnPicked, usableModules, type Usable } from './modules/library-commands.ts';
import { addFromPalette } from './bench/adding.ts';
import { offered } from './bench/catalogue.ts';
import { benchCommandList } from './bench/command-list.ts';
import { useBenchCommands } from './bench/use-bench-commands.ts';
import { everyNode, type FoundNode } from './bench/find.ts';
import type { PageCommand } from './page-command.ts';
import { matching, type PaletteEntry } from './palette-entries.ts';
import { addedNow, recentTypes } from './recent.ts';
import { PALETTE_EVENT, type PaletteRequest } from './bench/palette.ts';

const HEADING =
  '[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:pb-1 [&_[cmdk-group-heading]]:text-xs [&_[cmdk-group-heading]]:text-faint';

/** The palette: adds nodes and runs commands. With a wire in hand it offers only what fits. */
export function PaletteDialog({ commands }: { commands: readonly PageCommand[] }) {
  const [request, setRequest] = useState<PaletteRequest | null>(null);
  const [search, setSearch] = useState('');
  const [highlighted, setHighlighted] = useState('');
  const recent = useMemo(() => (request ? recentTypes() : []), [request]);
  const flow = useReactFlow();
  const bench = useBenchCommands();
  const onBench: readonly PageCommand[] = useMemo(() => {
    const { add: _here, find: _its, ...others } = benchCommandList(bench);
    return Object.values(others);
  }, [bench]);
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
    if (!request) return;
    addedNow(definition.id);
    addFromPalette(flow, definition, request);
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
    const types = offered(request.end);
    const isPlain = !request.end && !request.at && request.replace === undefined;
    const entry = (n: NodeDefinition, heading: string, act?: () => void): PaletteEntry => ({
      key: heading === n.group ? n.id : `${heading} ${n.id}`,
      heading,
      title: n.title,
      about: n.summary,
      words: [...(n.keywords ?? []), n.summary],
      ports: portsInWords(n),
      run: act ?? (() => add(n)),
    });
    // Without a word, what was used lately comes first.
    if (search === '')
      for (const id of recent) entries.push(...types.filter((n) => n.id === id).map((n) => entry(n, 'Added lately')));
    for (const n of types) {
      const act = isPlain ? actOnPicked(n) : undefined;
      entries.push(entry(n, act && search !== '' ? 'Put on what is picked' : n.group, act));
    }
  }
  if (request && !request.end && !request.find && request.replace === undefined) {
    const picked = store.getState().ui.objects.length;
    for (const usable of usableModules()) {
      const { key, name, summary, tags, wrong, asks } = usable;
      // What more has to be picked for a constraint or a pose is said where one looks for it.
      if (picked > 0 && (!wrong || asks))
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
  if (request && !request.end && request.replace === undefined && (search !== '' || request.find)) {
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
  if (request && !request.end && !request.find && request.replace === undefined) {
    for (const { label, keys, run } of [...commands, ...onBench])
      entries.push({ key: label, heading: 'Commands', title: label, note: keys, run });
  }
  const groups = matching(entries, search);
  const marked = entries.find((e) => e.key === highlighted) ?? groups[0]?.entries[0];
  return (
    <Dialog.Root open={request !== null} onOpenChange={(o) => !o && setRequest(null)}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/15" />
        <Dialog.Content
          aria-describedby={undefined}
          className={`fixed z-50 w-[520px] max-w-[92vw] overflow-hidden rounded-md border border-line-strong bg-raised ${request?.screen ? '' : 'top-[14vh] left-1/2 -translate-x-1/2'}`}
          style={request?.screen && placeAt(request.screen)}
          data-palette
        >
          <Dialog.Title className="sr-only">Add a node or run a command</Dialog.Title>
          <Command label="Palette" shouldFilter={false} value={highlighted} onValueChange={setHighlighted}>
            <Command.Input
              autoFocus
              value={search}
              onValueChange={setSearch}
              placeholder={
                request?.replace !== undefined
                  ? 'Replace it by…'
                  : request?.find
                    ? 'Title, type, attribute or message…'
                    : request?.end
                      ? `What ${request.end.side === 'output' ? 'takes' : 'gives'} ${KIND_WORDS[request.end.kind]}?`
                      : 'Find or add…'
              }
              className="h-11 w-full border-b border-line bg-transparent px-4 text-[15px] outline-none"
            />
            <Command.List className="max-h-[44vh] overflow-auto p-1.5">
              <Command.Empty className="p-4 text-soft">
                Nothing is called that. Try a trade word: distance, noise, curve…
              </Command.Empty>
              {groups.map((group) => (
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
            {marked?.about && (
              <div data-palette-help className="border-t border-line bg-paper px-4 py-2 text-xs leading-snug text-soft">
                <p>
                  <strong className="font-semibold text-ink">{marked.title}.</strong> {marked.about}
                </p>
                {marked.ports && <p className="mt-0.5 text-faint">{marked.ports}</p>}
              </div>
            )}
          </Command>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** What a node takes and gives, in short. */
function portsInWords(definition: NodeDefinition): string {
  const settings = settingsOf(definition, nodeOf(definition, [0, 0]));
  const names = (ports: readonly { label: string }[]) => ports.map((p) => p.label).join(', ');
  const [takes, gives] = [names(definition.inputs(settings)), names(definition.outputs(settings))];
  return [takes && `Takes ${takes}.`, gives && `Gives ${gives}.`].filter(Boolean).join(' ');
}

/** Near the pointer, and wholly in the window. */
function placeAt({ x, y }: { x: number; y: number }): CSSProperties {
  return {
    left: Math.max(8, Math.min(x - 40, window.innerWidth - 528)),
    top: Math.max(8, Math.min(y - 20, window.innerHeight * 0.4)),
  };
}
