import {
  KIND_TAGS,
  WAY_CONTROLS,
  WAY_STARTS,
  type PortKind,
  type Way,
  type Ways,
  moduleAt,
  moduleKey,
  pathOfInside,
  usesOfWay,
} from '@umberfish/core';
import { ArrowDown, ArrowUp, X } from 'lucide-react';
import { useState } from 'react';
import { Choice } from '../../../ui/choice.tsx';
import { NumberField } from '../../../ui/number-field.tsx';
import { Switch } from '../../../ui/switch.tsx';
import { TextField } from '../../../ui/text-field.tsx';
import { store } from '../../../state/store.ts';
import { remarked } from '../../../state/ui-slice.ts';
import { catalogue } from '../../../state/catalogue.ts';
import { IconButton } from '../../../ui/icon-button.tsx';
import { FieldRow } from '../field-row.tsx';
import type { FieldProps } from './field.ts';

const CONTROL_WORDS: Record<Way['control'], string> = {
  number: 'Number',
  slider: 'Slider',
  switch: 'Switch',
  choice: 'Choice',
  colour: 'Colour',
  place: 'Place (a locator)',
  response: 'Response',
  gradient: 'Gradient',
  object: 'Object',
  wire: 'Wire only',
};
const START_WORDS: Record<Way['start'], string> = {
  origin: 'Object’s origin',
  middle: 'Middle of its bounds',
  top: 'Top of its bounds',
  world: 'World origin',
};

/** What crosses the wall of a module, in order: named, grouped, moved, laid out. Wires and uses hold on to ids, so names may change. */
export function WaysField({ graph, node, setting, value, write }: FieldProps<'ways'>) {
  const [open, setOpen] = useState<string | null>(null);
  const [asking, setAsking] = useState<{ way: string; uses: readonly string[] } | null>(null);
  const { ways } = value as Ways;
  const isIn = catalogue().get(node.type)?.way === 'in';
  const change = (id: string, part: Partial<Way>, gesture: string | null = null) =>
    write({ ways: ways.map((w) => (w.id === id ? { ...w, ...part } : w)) }, gesture && `${gesture} ${id}`);
  const rename = (way: Way, name: string) => {
    if (name === '' || name === way.name) return;
    if (ways.some((w) => w.name === name))
      return void store.dispatch(
        remarked({ text: `There is a way called "${name}" already. Choose another name.`, kind: 'wrong' }),
      );
    change(way.id, { name });
  };
  const drop = (id: string) => {
    setAsking(null);
    write({ ways: ways.filter((w) => w.id !== id) });
  };
  const remove = (way: Way) => {
    const { project } = store.getState().project;
    const path = pathOfInside(graph.id);
    const module = project && path !== undefined ? moduleAt(project, path) : undefined;
    const uses = project && module ? usesOfWay(project, moduleKey(module), way.id) : [];
    if (uses.length === 0) drop(way.id);
    else setAsking({ way: way.id, uses });
  };
  const move = (i: number, by: -1 | 1) => {
    const next = [...ways];
    [next[i], next[i + by]] = [next[i + by], next[i]];
    write({ ways: next });
  };
  return (
    <section aria-label={setting.label} className="mt-1" data-ways={ways.length}>
      <h3 className="text-soft">{isIn ? 'Ways in, as dials' : 'Ways out'}</h3>
      {ways.length === 0 && (
        <p className="text-xs leading-snug text-faint">
          None yet. Drag {isIn ? 'an input' : 'an output'} of a card onto this one to {isIn ? 'make it a dial' : 'let it out'}.
        </p>
      )}
      <ol>
        {ways.map((way, i) => (
          <li key={way.id} data-way={way.name} className="border-b border-line py-1">
            <div className="flex items-center gap-1">
              <button
                type="button"
                aria-expanded={open === way.id}
                aria-label={`More of ${way.name}`}
                className="number w-[46px] shrink-0 rounded bg-sunk px-1 py-0.5 text-left text-[10.5px] whitespace-nowrap text-soft"
                onClick={() => setOpen(open === way.id ? null : way.id)}
              >
                {way.kind in KIND_TAGS ? KIND_TAGS[way.kind as PortKind] : 'set'} {open === way.id ? '▾' : '▸'}
              </button>
              <TextField label={`Name of way ${i + 1}`} value={way.name} onChange={(name) => rename(way, name.trim())} />
              <IconButton label={`Move ${way.name} up`} disabled={i === 0} onClick={() => move(i, -1)}>
                <ArrowUp size={12} />
              </IconButton>
              <IconButton label={`Move ${way.name} down`} disabled={i === ways.length - 1} onClick={() => move(i, 1)}>
                <ArrowDown size={12} />
              </IconButton>
              <IconButton label={`Remove way ${way.name}`} onClick={() => remove(way)}>
                <X size={12} />
              </IconButton>
            </div>
            {asking?.way === way.id && (
              <p data-losing={asking.uses.length} className="mt-1 border-l-2 border-rust pl-2 text-xs leading-snug">
                {asking.uses.join(', ')} {asking.uses.length === 1 ? 'loses' : 'lose'} what leads to it.{' '}
                <button type="button" className="text-rust underline" onClick={() => drop(way.id)}>
                  Remove it all the same
                </button>{' '}
                <button type="button" className="text-umber underline" onClick={() => setAsking(null)}>
                  Keep it
                </button>
              </p>
            )}
            {open === way.id && (
              <Details
                way={way}
                others={ways.filter((w) => w !== way)}
                isIn={isIn}
                change={(part, gesture) => change(way.id, part, gesture)}
              />
            )}
          </li>
        ))}
      </ol>
    </section>
  );
}

interface DetailsProps {
  way: Way;
  /** The other ways, of which one may decide whether this is shown. */
  others: readonly Way[];
  isIn: boolean;
  change(part: Partial<Way>, gesture?: string | null): void;
}

/** How a dial is laid out. */
function Details({ way, others, isIn, change }: DetailsProps) {
  const { range } = way;
  const number = (label: string, now: number, set: (v: number) => Partial<Way>) => (
    <FieldRow label={label} help="">
      <NumberField
        label={label}
        unit={way.unit || undefined}
        value={now}
        onChange={(v, gesture) => typeof v === 'number' && change(set(v), gesture)}
        onEnd={() => {}}
      />
    </FieldRow>
  );
  return (
    <div className="mt-1 flex flex-col gap-1 pl-3">
      <FieldRow label="Help" help="What the dial says of itself.">
        <TextField label={`Help of ${way.name}`} value={way.help} onChange={(help) => change({ help })} />
      </FieldRow>
      {isIn && (
        <>
          <FieldRow label="Group" help="Dials of one group stand together under its name.">
            <TextField label={`Group of ${way.name}`} value={way.group} onChange={(group) => change({ group })} />
          </FieldRow>
          <FieldRow label="Unit" help="Shown after the number.">
            <TextField label={`Unit of ${way.name}`} value={way.unit} onChange={(unit) => change({ unit })} />
          </FieldRow>
          <FieldRow label="Control" help="What people get hold of.">
            <Choice
              label={`Control of ${way.name}`}
              value={way.control}
              options={WAY_CONTROLS.map((c) => ({ value: c, label: CONTROL_WORDS[c] }))}
              onChange={(c) => change({ control: c as Way['control'] })}
            />
          </FieldRow>
          {typeof way.default === 'number' && number('Default', way.default, (v) => ({ default: v }))}
          {typeof way.default === 'boolean' && (
            <FieldRow label="Default" help="">
              <Switch label={`Default of ${way.name}`} checked={way.default} onChange={(v) => change({ default: v })} />
            </FieldRow>
          )}
          {range && number('Least', range.min, (v) => ({ range: { ...range, min: v } }))}
          {range && number('Most', range.max, (v) => ({ range: { ...range, max: v } }))}
          {range && (
            <FieldRow
              label="No further"
              help="Numbers that are typed or dragged stay in the range. Keys, expressions, wires and poses are not held to it."
            >
              <Switch
                label={`Range of ${way.name} is hard`}
                checked={range.hard}
                onChange={(v) => change({ range: { ...range, hard: v } })}
              />
            </FieldRow>
          )}
          <FieldRow label="Shown" help="Always, or only while a yes-or-no dial is on.">
            <Choice
              label={`When ${way.name} is shown`}
              value={way.shown?.way ?? '-'}
              options={[
                { value: '-', label: 'Always' },
                ...others.filter((w) => w.kind === 'toggle').map((w) => ({ value: w.id, label: `While ${w.name}` })),
              ]}
              onChange={(w) => change({ shown: w === '-' ? null : { way: w, is: true } })}
            />
          </FieldRow>
          {way.control === 'place' && (
            <FieldRow label="Starts at" help="Where the locator is made when the module is put on an object.">
              <Choice
                label={`Start of ${way.name}`}
                value={way.start}
                options={WAY_STARTS.map((s) => ({ value: s, label: START_WORDS[s] }))}
                onChange={(s) => change({ start: s as Way['start'] })}
              />
            </FieldRow>
          )}
        </>
      )}
    </div>
  );
}
