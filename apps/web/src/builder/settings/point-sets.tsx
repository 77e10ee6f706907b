import { type ObjectOf, type PointSet, changeObjectOf } from '@umberfish/core';
import { Plus, X } from 'lucide-react';
import { applyEdit, useSend, useStore } from '../../state/store.ts';
import { remarked, uiSet } from '../../state/ui-slice.ts';
import { Button } from '../../ui/button.tsx';
import { formatCount } from '../../ui/format.ts';
import { TextField } from '../../ui/text-field.tsx';

/** Named sets of an object's points; graphs read them as yes-or-no attributes, as weights for instance. */
export function PointSets({ object }: { object: ObjectOf<'mesh'> }) {
  const choosing = useStore((s) => s.ui.choosing);
  const send = useSend();
  if (object.mesh === null) return null;
  const { sets } = object;
  const write = (label: string, next: readonly PointSet[]) => applyEdit(label, changeObjectOf('mesh', object.id, { sets: next }));
  const add = () => {
    let name = 'set';
    for (let n = 2; sets.some((s) => s.name === name); n++) name = `set${n}`;
    write('Add point set', [...sets, { name, points: [] }]);
    send(uiSet({ choosing: { object: object.id, set: name } }));
  };
  const rename = (from: string, to: string) => {
    const wrong = !/^[A-Za-z_][A-Za-z0-9_]*$/.test(to)
      ? `"${to}" cannot be a name here: use letters, digits and _.`
      : sets.some((s) => s.name === to)
        ? `There is a set called "${to}" already.`
        : null;
    if (wrong) return void send(remarked({ kind: 'wrong', text: wrong }));
    write(
      'Rename point set',
      sets.map((s) => (s.name === from ? { ...s, name: to } : s)),
    );
    if (choosing?.set === from) send(uiSet({ choosing: { object: object.id, set: to } }));
  };
  return (
    <section className="mt-2" aria-label="Point sets">
      <div className="flex items-center justify-between">
        <h3 className="text-soft">Point sets</h3>
        <Button className="!h-6 !px-1.5 text-xs" onClick={add} aria-label="Add point set">
          <Plus size={12} /> Add
        </Button>
      </div>
      {sets.length === 0 && (
        <p className="text-xs leading-snug text-faint">None. A set is read in graphs as an attribute, 1 on its points.</p>
      )}
      {sets.map(({ name, points }) => {
        const on = choosing?.object === object.id && choosing.set === name;
        return (
          <div key={name} data-set={name} className="mt-1 flex items-center gap-1">
            <TextField label={`Name of point set ${name}`} value={name} onChange={(to) => rename(name, to)} className="number" />
            <span className="number w-9 shrink-0 text-right text-xs text-faint">{formatCount(points.length)}</span>
            <Button
              look="framed"
              pressed={on}
              className="!h-6 !px-1.5 text-xs"
              onClick={() => send(uiSet({ choosing: on ? null : { object: object.id, set: name } }))}
            >
              {on ? 'Done' : 'Choose'}
            </Button>
            <button
              type="button"
              aria-label={`Remove point set ${name}`}
              className="shrink-0 p-0.5 text-faint hover:text-ink"
              onClick={() => {
                write(
                  'Remove point set',
                  sets.filter((s) => s.name !== name),
                );
                if (on) send(uiSet({ choosing: null }));
              }}
            >
              <X size={13} />
            </button>
          </div>
        );
      })}
    </section>
  );
}
