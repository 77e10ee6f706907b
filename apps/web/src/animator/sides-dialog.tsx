import { nameAcross, setSides, type Sides } from '@umberfish/core';
import { Plus, Trash2 } from 'lucide-react';
import { useMemo } from 'react';
import { applyEdit, selectProject, useStore } from '../state/store.ts';
import { Button } from '../ui/button.tsx';
import { Modal } from '../ui/modal.tsx';
import { TextField } from '../ui/text-field.tsx';

/** Which words in names tell the two sides apart, and whom they pair. */
export function SidesDialog({ onClose }: { onClose(): void }) {
  const project = useStore(selectProject);
  const pairs = useMemo(() => {
    if (!project) return [];
    const names = new Set(project.objects.map((o) => o.name));
    return project.objects.flatMap(({ name }) => {
      const across = nameAcross(name, project.sides);
      return across === undefined || (names.has(across) && across < name) ? [] : [{ name, across, isThere: names.has(across) }];
    });
  }, [project]);
  if (!project) return null;
  const { sides } = project;
  const write = (to: Sides) => applyEdit('Words for the two sides', setSides(to));
  const change = (i: number, part: Partial<Sides[number]>) => write(sides.map((s, k) => (k === i ? { ...s, ...part } : s)));
  return (
    <Modal
      open
      title="Words for the two sides"
      about="Names that have one of these words, by itself, have the other one on the other side. The first pair that fits counts."
      onClose={onClose}
    >
      <ul className="flex flex-col gap-1.5">
        {sides.map((s, i) => (
          <li key={i} className="flex items-center gap-2">
            <TextField label={`Left word ${i + 1}`} value={s.left} onChange={(left) => change(i, { left: left.trim() })} />
            <span className="text-faint">↔</span>
            <TextField label={`Right word ${i + 1}`} value={s.right} onChange={(right) => change(i, { right: right.trim() })} />
            <Button
              className="!px-1.5"
              aria-label={`Remove ${s.left} and ${s.right}`}
              onClick={() => write(sides.filter((_, k) => k !== i))}
            >
              <Trash2 size={14} />
            </Button>
          </li>
        ))}
      </ul>
      <Button className="mt-2" onClick={() => write([...sides, { left: 'L', right: 'R' }])}>
        <Plus size={14} /> A pair of words
      </Button>
      <h3 className="mt-3 font-serif font-semibold">Paired by them</h3>
      <ul className="mt-1 max-h-40 overflow-auto text-xs" data-pairs={pairs.length}>
        {pairs.length === 0 && <li className="text-soft">Nothing: no name has one of the words.</li>}
        {pairs.map(({ name, across, isThere }) => (
          <li key={name} className="flex gap-2 py-0.5">
            <span className="min-w-0 flex-1 truncate">{name}</span>
            <span className="text-faint">↔</span>
            <span className={`min-w-0 flex-1 truncate ${isThere ? '' : 'text-rust'}`}>{isThere ? across : `no "${across}"`}</span>
          </li>
        ))}
      </ul>
    </Modal>
  );
}
