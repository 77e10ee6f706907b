import {
  channelName,
  channelUnit,
  channelValue,
  channelsOf,
  kindOf,
  placeOfChannel,
  reachOf,
  setAnimated,
  switchDial,
  switchDrivers,
  numberAt,
  writeChannels,
  type Animated,
  type NumberSource,
  type ObjectRecord,
  type Project,
} from '@umberfish/core';
import { ChannelField } from '../builder/settings/channel-parts.tsx';
import { keySwitch } from '../builder/scene/pose-commands.ts';
import { usePose } from '../engine/pose.ts';
import { catalogue } from '../state/catalogue.ts';
import { applyEdit, store, useSend, useStore } from '../state/store.ts';
import { objectsPicked } from '../state/ui-slice.ts';
import { Button } from '../ui/button.tsx';
import { NumberDial } from './number-dial.tsx';

const PLACES = [
  { part: 'translate', label: 'Move', unit: 'm', range: { min: -5, max: 5 } },
  { part: 'rotate', label: 'Turn', unit: '°', range: { min: -180, max: 180 } },
  { part: 'scale', label: 'Size', unit: '×', range: { min: 0, max: 3 } },
] as const;

interface Props {
  project: Project;
  object: ObjectRecord;
  /** What it is called here. */
  name: string;
  channels: readonly string[];
}

/** An object's own dials and channels, as far as they are handed out. */
export function ObjectPart({ project, object, name, channels }: Props) {
  const picked = useStore((s) => s.ui.objects.includes(object.id));
  const send = useSend();
  const pose = usePose();
  // What the rig itself moves is not there to be moved.
  const driven = pose?.driven(object.id)?.channels ?? {};
  const open = reachOf(catalogue(), project).objects.get(object.id) ?? [];
  const free = channels.filter((c) => open.includes(c) && !(c in driven) && !object.hidden.includes(c));
  const held = switchDial(catalogue(), project, object.id);
  const dials = channelsOf(object).filter((c) => !placeOfChannel(c) && free.includes(c));
  return (
    <section aria-label={name} data-part-of={object.id} className="flex flex-col gap-1.5">
      <header className="mt-2 flex items-baseline justify-between gap-2">
        <h2 className="min-w-0 truncate font-serif text-[15px] font-semibold">
          <button
            type="button"
            className={`max-w-full truncate text-left hover:underline ${picked ? 'text-pick' : ''}`}
            onClick={() => send(objectsPicked([object.id]))}
          >
            {name}
          </button>
        </h2>
        <span className="shrink-0 text-xs text-faint">{kindOf(object).drawn === 'cross' ? 'control' : kindOf(object).label}</span>
      </header>
      {dials.map((c) =>
        c === held ? (
          <HeldBy key={c} project={project} object={object} channel={c} />
        ) : (
          <ChannelDial key={c} object={object} channel={c} />
        ),
      )}
      {PLACES.map(({ part, label, unit, range }) => {
        const shown = ['x', 'y', 'z'].map((a) => `${part}.${a}`).filter((c) => free.includes(c));
        if (shown.length === 0) return null;
        return (
          <div key={part} className="grid grid-cols-[58px_1fr] items-center gap-2">
            <span className="text-soft">
              {label} <span className="number text-[11px] text-faint">{unit}</span>
            </span>
            <div className="flex min-w-0 gap-1">
              {shown.map((c) => (
                <ChannelField
                  key={c}
                  object={object}
                  channel={c}
                  label={`${name} ${label.toLowerCase()} ${c.slice(-1)}`}
                  prefix={c.slice(-1)}
                  range={range}
                  expressions={false}
                  driver={undefined}
                />
              ))}
            </div>
          </div>
        );
      })}
      {free.length === 0 && (
        <p className="text-xs text-faint">There is nothing to set here: the rig moves it, or it is locked.</p>
      )}
    </section>
  );
}

const sourceOf = (object: ObjectRecord, channel: string): NumberSource =>
  (object.animated[channel] as Animated | undefined) ?? channelValue(object, channel) ?? 0;

function writeSource(object: ObjectRecord, channel: string, v: NumberSource, gesture: string | null): void {
  const { frame } = store.getState().ui;
  const edit =
    typeof v === 'number' ? writeChannels(object.id, { [channel]: v }, frame, false) : setAnimated(object.id, channel, v);
  const drop = typeof v === 'number' && object.animated[channel] ? setAnimated(object.id, channel, undefined) : null;
  applyEdit(
    `Change ${channelName(object, channel)}`,
    (p) => edit(drop ? drop(p) : p),
    gesture && `${gesture} ${object.id} ${channel}`,
  );
}

function ChannelDial({ object, channel }: { object: ObjectRecord; channel: string }) {
  const own = object.custom.find((c) => c.id === channel);
  return (
    <NumberDial
      label={channelName(object, channel)}
      help={`A dial of ${object.name}`}
      unit={channelUnit(object, channel)}
      range={own && { min: own.min, max: own.max }}
      value={sourceOf(object, channel)}
      onChange={(v, gesture) => writeSource(object, channel, v, gesture)}
    />
  );
}

/** Who holds an object, by name, and handing it over without a pop. */
function HeldBy({ project, object, channel }: { project: Project; object: ObjectRecord; channel: string }) {
  const frame = useStore((s) => s.ui.frame);
  const names = switchDrivers(catalogue(), project, object.id);
  const now = numberAt(project, object, channel, frame);
  return (
    <div className="grid grid-cols-[76px_1fr] items-start gap-2" data-held-by={object.id}>
      <span className="pt-1 text-soft">Held by</span>
      <div className="flex min-w-0 flex-col gap-1">
        <div role="group" aria-label={`${object.name} held by`} className="flex flex-wrap gap-1">
          {names.map((driver, i) => (
            <Button
              key={`${i} ${driver}`}
              look="framed"
              className="!h-6 max-w-full !px-2 text-xs"
              pressed={Math.abs(now - i) < 1e-6}
              hint={`Hand ${object.name} over to ${driver} at this frame, without a pop`}
              onClick={() => void keySwitch(object, channel, i)}
            >
              <span className="truncate">{driver}</span>
            </Button>
          ))}
        </div>
        <p className="text-xs text-faint">
          {Number.isInteger(now) ? 'From this frame on, without a pop.' : `On the way: ${now.toFixed(2)}`}
        </p>
      </div>
    </div>
  );
}
