import { Tabs } from 'radix-ui';
import { nodeTitle, resolveProject, SHOWN_PORT } from '@umberfish/core';
import { selectProject, useSend, useStore } from '../../state/store.ts';
import { uiSet, type ReadoutTab } from '../../state/ui-slice.ts';
import { Contact } from './contact.tsx';
import { Messages, useMessages } from './messages.tsx';
import { Plot } from './plot.tsx';
import { Values } from './values.tsx';
import { catalogue } from '../../state/catalogue.ts';

/** Numbers and messages, under the stage, always for what is looked at. */
export function Readout() {
  const tab = useStore((s) => s.ui.readout);
  const port = useStore((s) => s.ui.port);
  const project = useStore(selectProject);
  const messages = useMessages();
  const send = useSend();
  const node = port && project ? resolveProject(catalogue(), project).get(port.node) : undefined;
  const output = node?.outputs.find((o) => o.id === port?.port)?.label ?? (port?.port === SHOWN_PORT ? 'shown' : '');
  const tellsContacts = node?.definition?.contacts !== undefined;
  const errors = messages.filter((m) => m.severity === 'error').length;
  return (
    <Tabs.Root
      value={tab === 'contact' && !tellsContacts ? 'values' : tab}
      onValueChange={(v) => send(uiSet({ readout: v as ReadoutTab }))}
      className="flex h-full flex-col"
      data-readout
    >
      <div className="flex h-9 shrink-0 items-center justify-between gap-2 border-b border-line px-2">
        <Tabs.List className="flex gap-0.5" aria-label="Readout">
          {(
            [
              ['values', 'Values'],
              ['plot', 'Plot'],
              ...(tellsContacts ? [['contact', 'Contact'] as const] : []),
              ['messages', messages.length > 0 ? `Messages ${messages.length}` : 'Messages'],
            ] as const
          ).map(([id, label]) => (
            <Tabs.Trigger
              key={id}
              value={id}
              className={`h-6.5 shrink-0 rounded px-2.5 whitespace-nowrap data-[state=active]:bg-sunk data-[state=active]:text-ink ${id === 'messages' && errors > 0 ? 'text-rust' : 'text-soft'}`}
            >
              {label}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
        {node && (
          <span className="truncate text-xs text-soft">
            {nodeTitle(node)} <span className="text-faint">·</span> {output}
          </span>
        )}
      </div>
      <Tabs.Content value="values" className="min-h-0 flex-1 outline-none">
        <Values />
      </Tabs.Content>
      <Tabs.Content value="plot" className="min-h-0 flex-1 outline-none">
        <Plot />
      </Tabs.Content>
      <Tabs.Content value="contact" className="min-h-0 flex-1 outline-none">
        {node && <Contact key={node.record.id} node={node} />}
      </Tabs.Content>
      <Tabs.Content value="messages" className="min-h-0 flex-1 overflow-auto outline-none">
        <Messages messages={messages} />
      </Tabs.Content>
    </Tabs.Root>
  );
}
