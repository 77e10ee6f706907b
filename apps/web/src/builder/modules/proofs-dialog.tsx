import {
  changeModule,
  CATALOGUE,
  EXAMPLES,
  fileOf,
  moduleKey,
  proofName,
  wallsOf,
  type ModuleRecord,
  type Proof,
  type ProofResult,
} from '@umberfish/core';
import { X } from 'lucide-react';
import { useState } from 'react';
import { ProofList } from '../../library/proof-list.tsx';
import { proveAway, recordAway } from '../../library/proving.ts';
import { applyEdit, selectProject, store, useStore } from '../../state/store.ts';
import { remarked } from '../../state/ui-slice.ts';
import { Button } from '../../ui/button.tsx';
import { Choice } from '../../ui/choice.tsx';
import { Menu } from '../../ui/menu.tsx';
import { Modal } from '../../ui/modal.tsx';

const EXAMPLE_WORDS: Record<ModuleRecord['example'], string> = {
  ball: 'A ball, 1 m radius',
  block: 'A block, 1 × 2 × 1 m',
  sheet: 'A sheet, 4 × 4 m',
};

/** What a module promises, and whether it keeps it: proofs are added, tried and taken out. */
export function ProofsDialog({ module, onClose }: { module: ModuleRecord; onClose(): void }) {
  const project = useStore(selectProject);
  const [results, setResults] = useState<readonly ProofResult[] | null>(null);
  const [trying, setTrying] = useState(false);
  if (!project) return null;
  const { ins } = wallsOf(CATALOGUE, module.graph);
  const nameOf = (way: string) => ins.find((w) => w.id === way)?.name ?? way;
  const fail = (error: unknown) => store.dispatch(remarked({ text: (error as Error).message, kind: 'wrong' }));
  const write = (proofs: readonly Proof[], label: string) => {
    setResults(null);
    applyEdit(label, changeModule(moduleKey(module), { proofs }));
  };
  const add = (proof: Proof) => write([...module.proofs, proof], 'Add proof');
  const plain = { dials: {}, known: '' };
  const tryAll = () => {
    setTrying(true);
    proveAway(fileOf(project, module))
      .then(setResults)
      .catch(fail)
      .finally(() => setTrying(false));
  };
  const record = () =>
    recordAway(fileOf(project, module), 1, 24)
      .then((places) => add({ kind: 'as-recorded', ...plain, frame: 1, places, within: 1e-4 }))
      .catch(fail);
  const numbers = ins.filter((w) => w.kind === 'number' && w.range !== null);
  return (
    <Modal
      open
      title={`Proofs of "${module.name}"`}
      about="What it promises, tried on its example: here, on publishing, and by umberfish prove."
      onClose={onClose}
    >
      <div className="flex flex-col gap-3">
        <label className="flex items-center gap-2">
          <span className="w-20 shrink-0 text-soft">Tried on</span>
          <Choice
            label="Example"
            value={module.example}
            options={EXAMPLES.map((e) => ({ value: e, label: EXAMPLE_WORDS[e] }))}
            onChange={(e) =>
              applyEdit('Change example', changeModule(moduleKey(module), { example: e as ModuleRecord['example'] }))
            }
          />
        </label>
        <div className="max-h-[44vh] overflow-auto">
          {results ? (
            <ProofList results={results} file={fileOf(project, module)} />
          ) : (
            <ul className="flex flex-col gap-1" data-listed={module.proofs.length}>
              {module.proofs.length === 0 && <li className="text-soft">It promises nothing yet. Add what must hold.</li>}
              {module.proofs.map((proof, i) => (
                <li key={i} className="flex items-center gap-2">
                  <span className="min-w-0 flex-1 truncate">{proofName(proof, nameOf)}</span>
                  <button
                    type="button"
                    aria-label={`Take out proof ${i + 1}`}
                    className="p-0.5 text-faint hover:text-ink"
                    onClick={() =>
                      write(
                        module.proofs.filter((_, j) => j !== i),
                        'Take out proof',
                      )
                    }
                  >
                    <X size={13} />
                  </button>
                </li>
              ))}
            </ul>
          )}
        </div>
        <div className="flex items-center gap-2">
          <Menu
            trigger={
              <button type="button" className="h-7 rounded border border-line-strong px-2.5">
                Add a proof <span className="text-faint">▾</span>
              </button>
            }
            items={[
              ...numbers.flatMap((w) => [
                {
                  label: `No pop over ${w.name}`,
                  onSelect: () => add({ kind: 'no-pop', ...plain, dial: w.id, from: w.range?.min ?? 0, to: w.range?.max ?? 1 }),
                },
                ...((w.range?.min ?? 1) <= 0 && (w.range?.max ?? -1) >= 0
                  ? [
                      {
                        label: `Keeps rest when ${w.name} is 0`,
                        onSelect: () => add({ kind: 'keeps-rest', dials: { [w.id]: 0 }, known: '', within: 1e-6 }),
                      },
                    ]
                  : []),
              ]),
              null,
              { label: 'No pop over the frames', onSelect: () => add({ kind: 'no-pop', ...plain, dial: null, from: 1, to: 25 }) },
              { label: 'Stretch between 0.5 and 2', onSelect: () => add({ kind: 'stretch', ...plain, least: 0.5, most: 2 }) },
              { label: 'Area within 5 %', onSelect: () => add({ kind: 'area', ...plain, within: 0.05 }) },
              { label: 'Volume within 1 %', onSelect: () => add({ kind: 'volume', ...plain, within: 0.01 }) },
              { label: 'Stays closed', onSelect: () => add({ kind: 'stays-closed', ...plain }) },
              { label: 'Nothing that is not finite', onSelect: () => add({ kind: 'finite', ...plain }) },
              { label: 'Same point order', onSelect: () => add({ kind: 'same-order', ...plain }) },
              { label: 'As it is now (24 points recorded)', onSelect: () => void record() },
              { label: 'Cost at most 100 × copying', onSelect: () => add({ kind: 'cost', ...plain, most: 100 }) },
            ]}
          />
          <span className="flex-1" />
          {results && <Button onClick={() => setResults(null)}>Change them</Button>}
          <Button look="strong" disabled={trying || module.proofs.length === 0} onClick={tryAll}>
            {trying ? 'Trying…' : 'Try them'}
          </Button>
        </div>
      </div>
    </Modal>
  );
}
