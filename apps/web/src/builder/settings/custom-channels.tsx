import {
  driversOf,
  type CustomChannel,
  type ObjectRecord,
  addCustomChannel,
  channelTrouble,
  changeCustomChannel,
  newCustomChannel,
  removeCustomChannel,
} from '@umberfish/core';
import { Plus, Settings2, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { applyEdit, selectProject, useStore } from '../../state/store.ts';
import { Button } from '../../ui/button.tsx';
import { Hint } from '../../ui/hint.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { TextField } from '../../ui/text-field.tsx';
import { ChannelField, DrivenBy, Trouble } from './channel-parts.tsx';
import { catalogue } from '../../state/catalogue.ts';

/** Numbers of an object's own, which graphs read and animators key. */
export function CustomChannels({ object }: { object: ObjectRecord }) {
  return (
    <div className="flex flex-col gap-1" data-custom={object.custom.length}>
      <div className="flex items-center justify-between">
        <Hint text="Numbers of its own, with a range: graphs read them with Read Channel, and they can be keyed." side="left">
          <span className="text-soft">Dials</span>
        </Hint>
        <Button
          className="!h-6 !px-1.5 text-xs"
          onClick={() => applyEdit('Add a dial', addCustomChannel(object.id, newCustomChannel(object)))}
        >
          <Plus size={12} /> Add a dial
        </Button>
      </div>
      {object.custom.map((c) => (
        <Dial key={c.id} object={object} channel={c} />
      ))}
    </div>
  );
}

function Dial({ object, channel }: { object: ObjectRecord; channel: CustomChannel }) {
  const project = useStore(selectProject);
  const [open, setOpen] = useState(false);
  const change = (to: Partial<CustomChannel>) => applyEdit('Change a dial', changeCustomChannel(object.id, channel.id, to));
  const frame = useStore((s) => s.ui.frame);
  const drivers = project ? driversOf(catalogue(), project, { object: object.id, channel: channel.id }) : [];
  return (
    <div data-dial={channel.name}>
      <div className="flex items-center gap-1">
        <ChannelField
          object={object}
          channel={channel.id}
          label={channel.name}
          prefix={channel.name}
          unit={channel.unit}
          range={channel}
          driver={drivers[0]?.node}
        />
        <button
          type="button"
          aria-label={`Set up ${channel.name}`}
          aria-expanded={open}
          className={`p-1 ${open ? 'text-ink' : 'text-faint hover:text-ink'}`}
          onClick={() => setOpen(!open)}
        >
          <Settings2 size={13} />
        </button>
      </div>
      <Trouble text={project ? channelTrouble(project, object, channel.id, frame) : undefined} />
      <DrivenBy object={object} drivers={drivers.map((d) => ({ channel: channel.id, node: d.node }))} />
      {open && (
        <div className="mt-1 flex flex-col gap-1 border-l-2 border-line-strong pl-2">
          <TextField
            label="Name of the dial"
            value={channel.name}
            onChange={(name) => name.trim() && change({ name: name.trim() })}
          />
          <div className="flex gap-1">
            {(['min', 'max', 'default'] as const).map((k) => (
              <NumberField
                key={k}
                label={`${channel.name} ${k}`}
                prefix={k === 'default' ? 'def' : k}
                value={channel[k]}
                onChange={(v) => typeof v === 'number' && change({ [k]: v })}
              />
            ))}
          </div>
          <div className="flex items-center gap-1">
            <TextField
              label="Unit"
              value={channel.unit}
              placeholder="unit"
              onChange={(unit) => change({ unit: unit.slice(0, 20) })}
            />
            <Button
              className="!h-6 !px-1.5 text-xs"
              onClick={() => applyEdit('Remove a dial', removeCustomChannel(object.id, channel.id))}
            >
              <Trash2 size={12} /> Remove
            </Button>
          </div>
        </div>
      )}
    </div>
  );
}
