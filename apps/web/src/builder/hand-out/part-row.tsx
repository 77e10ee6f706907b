import {
  channelName,
  channelsOf,
  nodeTitle,
  placeOfChannel,
  standingNodes,
  usedKey,
  isDialPort,
  type HandOutPart,
  type Project,
} from '@umberfish/core';
import { ArrowDown, ArrowUp, X } from 'lucide-react';
import { catalogue } from '../../state/catalogue.ts';
import { IconButton } from '../../ui/icon-button.tsx';
import { TextField } from '../../ui/text-field.tsx';

interface Props {
  project: Project;
  part: HandOutPart;
  onChange(part: HandOutPart): void;
  onMove(by: number): void;
  onRemove(): void;
}

const GROUPS = [
  { label: 'Move', part: 'translate' },
  { label: 'Turn', part: 'rotate' },
  { label: 'Size', part: 'scale' },
] as const;

/** One object, or the dials of one card: what it is called for animators, and what of it they get. */
export function PartRow({ project, part, onChange, onMove, onRemove }: Props) {
  const { name, ticks } = part.kind === 'object' ? objectTicks(project, part) : dialTicks(project, part);
  return (
    <li className="border-b border-line py-2 last:border-0" data-part={name}>
      <div className="flex items-center gap-1">
        <TextField
          label={`Name of ${name} for animators`}
          value={part.name}
          placeholder={name}
          onChange={(to) => onChange({ ...part, name: to.trim() })}
        />
        <IconButton label={`Move ${name} up`} onClick={() => onMove(-1)}>
          <ArrowUp size={13} />
        </IconButton>
        <IconButton label={`Move ${name} down`} onClick={() => onMove(1)}>
          <ArrowDown size={13} />
        </IconButton>
        <IconButton label={`Take ${name} off the page`} onClick={onRemove}>
          <X size={13} />
        </IconButton>
      </div>
      <div className="mt-1 flex flex-wrap gap-x-3 gap-y-0.5 text-xs">
        {ticks.map((t) => (
          <label key={t.label} className="flex items-center gap-1">
            <input type="checkbox" checked={t.on} onChange={(e) => onChange(t.set(e.target.checked))} className="accent-umber" />
            {t.label}
            {t.on && t.call && (
              <TextField
                label={`Name of ${t.label} for animators`}
                className="!h-6 w-24! text-xs"
                placeholder={t.label}
                value={t.called ?? ''}
                onChange={(to) => t.call && onChange(t.call(to))}
              />
            )}
          </label>
        ))}
      </div>
    </li>
  );
}

interface Tick {
  readonly label: string;
  readonly on: boolean;
  set(on: boolean): HandOutPart;
  /** Of a dial of a card: what it is called for animators, and another name for it. */
  readonly called?: string;
  call?(to: string): HandOutPart;
}

function objectTicks(project: Project, part: Extract<HandOutPart, { kind: 'object' }>): { name: string; ticks: Tick[] } {
  const object = project.objects.find((o) => o.id === part.object);
  if (!object) return { name: part.name || 'An object that is gone', ticks: [] };
  const known = channelsOf(object);
  const without = (some: readonly string[]) => part.channels.filter((c) => !some.includes(c));
  const tick = (label: string, some: readonly string[]): Tick => ({
    label,
    on: some.every((c) => part.channels.includes(c)),
    // In the order in which the object has them.
    set: (on) => ({ ...part, channels: known.filter((c) => (some.includes(c) ? on : without(some).includes(c))) }),
  });
  return {
    name: object.name,
    ticks: [
      ...GROUPS.map((g) =>
        tick(
          g.label,
          known.filter((c) => placeOfChannel(c)?.part === g.part),
        ),
      ),
      ...known.filter((c) => !placeOfChannel(c)).map((c) => tick(channelName(object, c), [c])),
    ],
  };
}

function dialTicks(project: Project, part: Extract<HandOutPart, { kind: 'dials' }>): { name: string; ticks: Tick[] } {
  const node = standingNodes(catalogue(), project).get(part.node);
  if (!node) return { name: part.name || 'A card that is gone', ticks: [] };
  const all = [
    ...node.inputs.filter((p) => isDialPort(p) && !node.wires.has(p.id)).map((p) => ({ id: p.id, label: p.label })),
    // Settings of a module are its dials; those of a card are how it works.
    ...(usedKey(node.record) === undefined ? [] : (node.definition?.settings ?? [])).map((s) => ({ id: s.id, label: s.label })),
  ];
  return {
    name: nodeTitle(node),
    ticks: all.map(({ id, label }) => ({
      label,
      on: part.dials.includes(id),
      set: (on) => ({ ...part, dials: all.map((d) => d.id).filter((d) => (d === id ? on : part.dials.includes(d))) }),
      called: part.names?.[id] ?? '',
      call: (to) => ({ ...part, names: { ...part.names, [id]: to.trim() } }),
    })),
  };
}
