import {
  driversOf,
  keysIn,
  nodeTitle,
  placeOfChannel,
  type Animated,
  type ObjectRecord,
  type PlaceChannel,
  type ResolvedNode,
  channelTrouble,
  detachChannel,
  keyChannels,
  markChannels,
  numberAt,
  setAnimated,
  unkeyChannel,
  writeChannels,
} from '@umberfish/core';
import { Ellipsis, KeyRound, Lock } from 'lucide-react';
import { usePose } from '../../engine/pose.ts';
import { gestureEnded } from '../../state/project-slice.ts';
import { applyEdit, selectProject, store, useStore } from '../../state/store.ts';
import { Hint } from '../../ui/hint.tsx';
import { Menu } from '../../ui/menu.tsx';
import { NumberField, type TypedNumber } from '../../ui/number-field.tsx';
import { goToNode } from '../bench/paths.ts';
import { catalogue } from '../../state/catalogue.ts';

const PARTS = [
  {
    part: 'translate',
    label: 'Move',
    unit: 'm',
    range: { min: -5, max: 5 },
    zero: 0,
    help: 'Own channels: metres, in the space of what it hangs under.',
  },
  {
    part: 'rotate',
    label: 'Turn',
    unit: '°',
    range: { min: -180, max: 180 },
    zero: 0,
    help: 'Own channels: degrees about x, y, z.',
  },
  {
    part: 'scale',
    label: 'Size',
    unit: '×',
    range: { min: 0, max: 3 },
    zero: 1,
    help: "Own channels: factors along the object's own axes.",
  },
] as const;

const AXES = ['x', 'y', 'z'] as const;
const channelOf = (part: string, axis: string) => `${part}.${axis}` as PlaceChannel;

/** The nine channels of an object: numbers, keys, what drives them, locks. */
export function ChannelParts({ object }: { object: ObjectRecord }) {
  return PARTS.map((p) => <Part key={p.part} object={object} {...p} />);
}

function Part({ object, part, label, unit, range, zero, help }: (typeof PARTS)[number] & { object: ObjectRecord }) {
  const frame = useStore((s) => s.ui.frame);
  const project = useStore(selectProject);
  const channels = AXES.map((axis) => channelOf(part, axis));
  const shown = channels.filter((c) => !object.hidden.includes(c));
  const locked = channels.every((c) => object.locked.includes(c));
  const drivers = project
    ? channels.flatMap((channel) =>
        driversOf(catalogue(), project, { object: object.id, channel }).map((d) => ({ channel, node: d.node })),
      )
    : [];
  if (!project) return null;
  const changed = channels.some((c) => numberAt(project, object, c, frame) !== zero);
  const apply = (name: string, values: Record<string, number>, gesture: string | null = null) =>
    applyEdit(name, writeChannels(object.id, values, frame, store.getState().ui.autoKey), gesture && `${gesture} ${object.id}`);
  return (
    <div data-part={part}>
      <div className="flex items-center justify-between">
        <Hint text={help} side="left">
          <span className="text-soft">{label}</span>
        </Hint>
        <span className="flex items-center gap-1 text-xs text-faint">
          {changed && !locked && (
            <button
              type="button"
              className="hover:text-ink hover:underline"
              onClick={() => apply(`Reset ${label.toLowerCase()}`, Object.fromEntries(channels.map((c) => [c, zero])))}
            >
              reset
            </button>
          )}
          {locked && <Lock size={11} aria-label="Locked" />}
          <Hint text={`Set a key in all three (${label.toLowerCase()}) at this frame`}>
            <button
              type="button"
              aria-label={`Key ${label}`}
              className="p-0.5 hover:text-ink"
              onClick={() => applyEdit(`Key ${label.toLowerCase()}`, keyChannels([object.id], channels, frame))}
            >
              <KeyRound size={11} />
            </button>
          </Hint>
          <Menu
            align="end"
            trigger={
              <button type="button" aria-label={`More for ${label}`} className="p-0.5 hover:text-ink">
                <Ellipsis size={12} />
              </button>
            }
            items={[
              {
                label: locked ? 'Unlock' : 'Lock',
                onSelect: () =>
                  applyEdit(locked ? 'Unlock channels' : 'Lock channels', markChannels([object.id], 'locked', channels, !locked)),
              },
              {
                label: shown.length > 0 ? 'Hide' : 'Show',
                onSelect: () =>
                  applyEdit(
                    shown.length > 0 ? 'Hide channels' : 'Show channels',
                    markChannels([object.id], 'hidden', channels, shown.length > 0),
                  ),
              },
              {
                label: 'Drop keys and expressions',
                disabled: !channels.some((c) => object.animated[c]),
                onSelect: () =>
                  applyEdit('Drop keys', (p) =>
                    channels.reduce(
                      (q, c) => setAnimated(object.id, c, undefined)(q),
                      writeChannels(
                        object.id,
                        Object.fromEntries(channels.map((c) => [c, numberAt(p, object, c, frame)])),
                        frame,
                        false,
                      )(p),
                    ),
                  ),
              },
            ]}
          />
          <span className="number w-3 text-right">{unit}</span>
        </span>
      </div>
      {shown.length === 0 && <p className="text-xs text-faint">hidden</p>}
      <div className="mt-0.5 flex min-w-0 gap-1">
        {shown.map((channel) => (
          <ChannelField
            key={channel}
            object={object}
            channel={channel}
            label={`${label} ${channel.slice(-1)}`}
            prefix={channel.slice(-1)}
            range={range}
            driver={drivers.find((d) => d.channel === channel)?.node}
          />
        ))}
      </div>
      {shown.map((channel) => (
        <Trouble key={channel} text={channelTrouble(project, object, channel, frame)} />
      ))}
      <DrivenBy object={object} drivers={drivers} />
    </div>
  );
}

/** What is wrong with a channel, under it. */
export function Trouble({ text }: { text: string | undefined }) {
  return text ? <p className="mt-0.5 text-xs leading-snug text-rust">{text}</p> : null;
}

/** Says which nodes drive channels, leads there, and frees them. */
export function DrivenBy({
  object,
  drivers,
}: {
  object: ObjectRecord;
  drivers: readonly { channel: string; node: ResolvedNode }[];
}) {
  const pose = usePose();
  const nodes = [...new Set(drivers.map((d) => d.node))];
  return nodes.map((node) => {
    const mine = drivers.filter((d) => d.node === node);
    const name = mine.map((d) => (placeOfChannel(d.channel) ? d.channel.slice(-1) : '')).join(', ');
    return (
      <p
        key={node.record.id}
        className="mt-0.5 flex items-baseline gap-1 text-xs leading-snug text-soft"
        data-driven-by={node.record.id}
      >
        <span className="min-w-0 flex-1">
          {name} driven by{' '}
          <button type="button" className="text-umber underline" onClick={() => goToNode(node.record.id)}>
            {nodeTitle(node)}
          </button>
        </span>
        <Hint text="Free these channels; they keep the numbers they have now">
          <button
            type="button"
            className="shrink-0 hover:text-ink hover:underline"
            onClick={() => {
              const values = { ...pose?.driven(object.id)?.channels };
              applyEdit(
                'Detach, keep the value',
                detachChannel(object.id, mine[0].channel, node.record.id, node.graph.id, values),
              );
            }}
          >
            detach
          </button>
        </Hint>
      </p>
    );
  });
}

/** One channel: its number at the frame; its letter tells whether it has keys, and sets or takes one away. */
export function ChannelField({
  object,
  channel,
  label,
  prefix,
  range,
  unit,
  expressions = true,
  driver,
}: {
  object: ObjectRecord;
  channel: string;
  label: string;
  prefix: string;
  range: { min: number; max: number };
  unit?: string;
  /** Expressions may be typed too. */
  expressions?: boolean;
  driver: ResolvedNode | undefined;
}) {
  const frame = useStore((s) => s.ui.frame);
  const pose = usePose();
  const source = object.animated[channel] as Animated | undefined;
  const keys = keysIn(source)?.keys;
  const here = keys?.some((k) => k.frame === frame) ?? false;
  const now = pose ? (pose.driven(object.id)?.channels?.[channel] ?? numberAt(pose.project, object, channel, frame)) : 0;
  const locked = driver
    ? `Driven by ${nodeTitle(driver)}: change it there, or detach it.`
    : object.locked.includes(channel)
      ? 'Locked: unlock it in the menu beside the part.'
      : undefined;
  const write = (v: TypedNumber, gesture: string | null) => {
    if (typeof v === 'number')
      applyEdit(
        `Change ${label.toLowerCase()}`,
        writeChannels(object.id, { [channel]: v }, frame, store.getState().ui.autoKey),
        gesture && `${gesture} ${object.id}`,
      );
    else applyEdit(`Change ${label.toLowerCase()}`, setAnimated(object.id, channel, v));
  };
  const says = here ? 'Take the key at this frame away' : keys ? 'Set a key at this frame' : 'Set the first key, at this frame';
  return (
    <NumberField
      label={label}
      unit={unit}
      range={range}
      expressions={expressions}
      hasKeys={keys !== undefined}
      locked={locked}
      value={source && 'expression' in source && !driver ? source : now}
      onChange={write}
      onEnd={() => store.dispatch(gestureEnded())}
      prefix={
        <Hint text={says}>
          <button
            type="button"
            aria-label={`Key ${label}`}
            aria-pressed={here}
            data-keys={keys ? (here ? 'here' : 'yes') : 'none'}
            disabled={locked !== undefined}
            onPointerDown={(e) => e.stopPropagation()}
            onClick={() =>
              applyEdit(
                here ? 'Take a key away' : 'Set a key',
                here ? unkeyChannel(object.id, channel, frame) : keyChannels([object.id], [channel], frame),
              )
            }
            className={`number ml-0.5 h-5 max-w-24 min-w-4 shrink-0 truncate rounded-sm px-0.5 text-center text-[11px] leading-5 ${here ? 'bg-umber text-paper' : keys ? 'text-umber underline decoration-2 underline-offset-2' : 'text-faint hover:bg-sunk hover:text-ink'}`}
          >
            {prefix}
          </button>
        </Hint>
      }
    />
  );
}
