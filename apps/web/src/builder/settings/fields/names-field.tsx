import { NAME_TYPES, type Names, changeNames } from '@umberfish/core';
import { Plus, X } from 'lucide-react';
import { applyEdit } from '../../../state/store.ts';
import { Button } from '../../../ui/button.tsx';
import { Choice } from '../../../ui/choice.tsx';
import type { FieldProps, SettingEditor } from './field.ts';
import { TextField } from '../../../ui/text-field.tsx';
import { catalogue } from '../../../state/catalogue.ts';

const TYPES = NAME_TYPES.map((value) => ({ value, label: value }));

/** Names with a type, each a port of the card: added, renamed (wires stay) and removed. */
function NamesField({ graph, node, setting, value }: FieldProps<'names'>) {
  const { side } = setting;
  const { names } = value as Names;
  const write = (label: string, next: Names['names'], renamed?: { from: string; to: string }) =>
    applyEdit(label, changeNames(catalogue(), graph.id, node.id, setting.id, side, next, renamed));
  const taken = (name: string) => names.some((n) => n.name === name);
  const add = () => {
    let name = side === 'input' ? 'a' : 'result';
    for (let n = 1; taken(name); n++) name = side === 'input' ? String.fromCharCode(97 + (n % 26)) : `result${n + 1}`;
    write(`Add ${side}`, [...names, { name, type: 'number' }]);
  };
  return (
    <div className="mt-1">
      <div className="flex items-center justify-between">
        <span className="text-soft">{side === 'input' ? 'Inputs' : 'Outputs'}</span>
        <Button className="!h-6 !px-1.5 text-xs" onClick={add} disabled={names.length >= 16} aria-label={`Add ${side}`}>
          <Plus size={12} /> Add
        </Button>
      </div>
      {names.length === 0 && (
        <p className="text-xs text-faint">
          {side === 'input' ? 'None: it uses what the mesh has.' : 'None: add what the formula shall give.'}
        </p>
      )}
      {names.map(({ name, type }, i) => (
        <div key={i} className="mt-1 flex items-center gap-1">
          <TextField
            label={`Name of ${side} ${i + 1}`}
            value={name}
            onChange={(to) =>
              to.trim() &&
              write(
                `Rename ${side}`,
                names.map((n, j) => (j === i ? { ...n, name: to.trim() } : n)),
                { from: name, to: to.trim() },
              )
            }
            className="number"
          />
          <div className="w-[78px] shrink-0">
            <Choice
              label={`Type of ${name}`}
              value={type}
              options={TYPES}
              onChange={(t) =>
                write(
                  `Change ${side}`,
                  names.map((n, j) => (j === i ? { ...n, type: t as typeof type } : n)),
                )
              }
            />
          </div>
          <button
            type="button"
            aria-label={`Remove ${side} ${name}`}
            className="shrink-0 p-0.5 text-faint hover:text-ink"
            onClick={() =>
              write(
                `Remove ${side}`,
                names.filter((_, j) => j !== i),
              )
            }
          >
            <X size={13} />
          </button>
        </div>
      ))}
    </div>
  );
}

export const namesEditor: SettingEditor<'names'> = { field: NamesField, alone: true };
