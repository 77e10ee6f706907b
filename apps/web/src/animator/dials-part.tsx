import {
  CATALOGUE,
  moduleAt,
  reachOf,
  setInput,
  typedInput,
  versionWords,
  wallsOf,
  type InputPort,
  type InputValue,
  type NumberSource,
  type Project,
  type ResolvedNode,
  type Way,
} from '@umberfish/core';
import { SettingField } from '../builder/settings/setting-field.tsx';
import { catalogue } from '../state/catalogue.ts';
import { gestureEnded } from '../state/project-slice.ts';
import { applyEdit, store } from '../state/store.ts';
import { AnimatedField } from '../ui/animated-field.tsx';
import { ColourField } from '../ui/colour-field.tsx';
import { Switch } from '../ui/switch.tsx';
import { NumberDial } from './number-dial.tsx';

interface Props {
  project: Project;
  name: string;
  node: ResolvedNode;
  ports: readonly InputPort[];
  settings: readonly string[];
  /** They go on from the part above, which is called the same. */
  goesOn: boolean;
}

const endGesture = () => store.dispatch(gestureEnded());

/** Dials of a use, in the order and the groups that its module laid out; what a wire feeds turns by itself and is not shown. */
export function DialsPart({ project, name, node, ports, settings, goesOn }: Props) {
  const reach = reachOf(catalogue(), project).dials.get(node.record.id);
  const module = moduleAt(project, node.record.id);
  const ways: readonly Pick<Way, 'id' | 'group' | 'control' | 'shown' | 'help'>[] = module
    ? wallsOf(CATALOGUE, module.graph).ins
    : [...ports.map((p) => p.id), ...settings].map((id) => ({ id, group: '', control: 'number', shown: null, help: '' }));
  const isOpen = ({ id, shown }: (typeof ways)[number]) => {
    const given = reach?.includes(id) && (ports.some((p) => p.id === id) || settings.includes(id));
    const other = shown && node.inputs.find((p) => p.id === shown.way);
    return given && (!shown || (other ? typedInput(other, node.record) : node.settings[shown.way]) === shown.is);
  };
  const open = ways.filter(isOpen);
  const groups = [...new Set(open.map((w) => w.group))];
  const Room = goesOn ? 'div' : 'section';
  return (
    <Room
      aria-label={goesOn ? undefined : name}
      data-dials-of={node.record.id}
      className={`flex flex-col gap-1.5 ${goesOn ? 'mt-1.5' : ''}`}
    >
      {!goesOn && (
        <header className="mt-2">
          <h2 className="truncate font-serif text-[15px] font-semibold">{name}</h2>
          {module && (
            <p className="truncate text-xs text-faint">
              {module.name}
              {module.version > 0 && ` · version ${versionWords(module.version)}`}
            </p>
          )}
        </header>
      )}
      {groups.map((group) => (
        <div key={group} className="flex flex-col gap-1.5">
          {group !== '' && <h3 className="mt-1 text-xs text-faint">{group}</h3>}
          {open
            .filter((w) => w.group === group)
            .map((way) => {
              const port = ports.find((p) => p.id === way.id);
              if (port) return <PortDial key={way.id} node={node} port={port} colour={way.control === 'colour'} />;
              const setting = node.definition?.settings.find((s) => s.id === way.id);
              return (
                setting && (
                  <SettingField
                    key={way.id}
                    graph={node.graph}
                    node={node.record}
                    setting={setting}
                    value={node.settings[way.id]}
                  />
                )
              );
            })}
        </div>
      ))}
      {open.length === 0 && <p className="text-xs text-faint">All its dials turn by themselves.</p>}
    </Room>
  );
}

function PortDial({ node, port, colour }: { node: ResolvedNode; port: InputPort; colour: boolean }) {
  const value = typedInput(port, node.record);
  const write = (v: InputValue, gesture: string | null) =>
    applyEdit(
      `Change ${port.label}`,
      setInput(node.graph.id, node.record.id, port.id, v),
      gesture && `${gesture} ${node.record.id} ${port.id}`,
    );
  if (typeof value === 'boolean')
    return (
      <Row label={port.label}>
        <Switch checked={value} label={port.label} onChange={(v) => write(v, null)} />
      </Row>
    );
  if (Array.isArray(value)) {
    const parts = value as unknown as readonly [NumberSource, NumberSource, NumberSource];
    const plain = parts.every((p) => typeof p === 'number');
    if (colour && plain)
      return (
        <Row label={port.label}>
          <ColourField
            label={port.label}
            value={parts as readonly [number, number, number]}
            onChange={write}
            onEnd={endGesture}
          />
        </Row>
      );
    return (
      <Row label={port.label}>
        {parts.map((part, axis) => (
          <AnimatedField
            key={axis}
            label={`${port.label} ${'xyz'[axis]}`}
            prefix={'xyz'[axis]}
            range={port.range}
            value={part}
            onChange={(v, gesture) => write(parts.map((p, i) => (i === axis ? v : p)) as unknown as InputValue, gesture)}
            onEnd={endGesture}
          />
        ))}
      </Row>
    );
  }
  if (value === undefined || typeof value === 'string') return null;
  return (
    <NumberDial
      label={port.label}
      help={port.help}
      unit={port.unit}
      range={port.range}
      whole={port.kind === 'integer'}
      value={value as NumberSource}
      onChange={write}
    />
  );
}

const Row = ({ label, children }: { label: string; children: React.ReactNode }) => (
  <div className="grid min-h-7 grid-cols-[76px_1fr] items-center gap-2" data-dial={label}>
    <span className="truncate text-soft" title={label}>
      {label}
    </span>
    <div className="flex min-w-0 items-center gap-1">{children}</div>
  </div>
);
