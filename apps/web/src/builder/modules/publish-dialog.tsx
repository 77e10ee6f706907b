import { changeModule, fileOf, moduleKey, versionWords, type ModuleRecord, type ProofResult } from '@umberfish/core';
import { useEffect, useState } from 'react';
import { ProofList } from '../../library/proof-list.tsx';
import { proveAway } from '../../library/proving.ts';
import { useLibrary } from '../../library/use-library.ts';
import { applyEdit, store } from '../../state/store.ts';
import { Button } from '../../ui/button.tsx';
import { Modal } from '../../ui/modal.tsx';
import { adopt, publish, publishing } from './library-commands.ts';

/** Publishes a module to the library: its number follows from what changed; a proof that fails holds it back. */
export function PublishDialog({ module, onClose }: { module: ModuleRecord; onClose(): void }) {
  const [note, setNote] = useState('');
  const [results, setResults] = useState<readonly ProofResult[] | string | null>(null);
  // Another tab may publish meanwhile: the number follows.
  useLibrary();
  const { version, words, breaks, isSame, known } = publishing(module);
  const { proofs } = module;
  // Tried once: a reason that is written beside a proof does not change what was found.
  const shape = JSON.stringify([module.graph.nodes, module.graph.wires, proofs.map((p) => ({ ...p, known: '' }))]);
  useEffect(() => {
    const { project } = store.getState().project;
    if (!project) return;
    let here = true;
    proveAway(fileOf(project, module)).then(
      (found) => here && setResults(found),
      (error: unknown) => here && setResults((error as Error).message),
    );
    return () => {
      here = false;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- what it consists of is what counts
  }, [shape]);
  const shown = Array.isArray(results)
    ? (results as ProofResult[]).map((r, i) => ({ ...r, known: proofs[i]?.known ?? r.known }))
    : [];
  const blocked = shown.some((r) => !r.ok && r.known === '');
  const mayPublish = !isSame && Array.isArray(results) && !blocked;
  const excuse = (index: number, known: string) =>
    applyEdit(
      'Say why a proof fails',
      changeModule(moduleKey(module), { proofs: proofs.map((p, i) => (i === index ? { ...p, known } : p)) }),
    );
  const go = () => {
    if (!mayPublish) return;
    onClose();
    void publish(module, note.trim());
  };
  return (
    <Modal
      open
      title={`Publish "${module.name}" ${versionWords(version)}`}
      about="A version in the library never changes. Projects hold the versions they use; they are told of newer ones."
      onClose={onClose}
    >
      <form
        data-publish={versionWords(version)}
        data-proven={results === null ? 'trying' : blocked ? 'fails' : 'done'}
        className="flex flex-col gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          go();
        }}
      >
        <p className="leading-snug">
          {known !== null
            ? `The library has it as ${versionWords(known)} already; the page ended before the project was told.`
            : isSame
              ? 'It is as it was published last; there is nothing new to publish.'
              : words}
        </p>
        {breaks.length > 0 && (
          <p className="border-l-2 border-rust pl-2 leading-snug text-rust">
            That breaks uses, so it gets a new whole number. {breaks.join(' ')}
          </p>
        )}
        <label className="flex flex-col gap-1">
          <span className="text-soft">Note: what is new</span>
          <input
            autoFocus
            aria-label="Note"
            value={note}
            onChange={(e) => setNote(e.target.value)}
            className="h-8 rounded border border-line-strong bg-raised px-2 outline-none focus:border-pick"
          />
        </label>
        <section aria-label="Proofs" className="max-h-[36vh] overflow-auto">
          <h3 className="mb-1 font-semibold">Proofs</h3>
          {results === null && <p className="text-soft">Trying {proofs.length} of them…</p>}
          {typeof results === 'string' && <p className="text-rust">{results}</p>}
          {Array.isArray(results) && proofs.length === 0 && (
            <p className="text-soft">It promises nothing; so nothing is tried.</p>
          )}
          <ProofList
            results={shown}
            file={fileOf(store.getState().project.project ?? { modules: [module] }, module)}
            beside={(i) =>
              !shown[i].ok && (
                <input
                  aria-label={`Why ${shown[i].name} may fail`}
                  defaultValue={shown[i].known}
                  placeholder="It may fail, because…"
                  onBlur={(e) => excuse(i, e.target.value.trim())}
                  onKeyDown={(e) => e.key === 'Enter' && (e.preventDefault(), (e.target as HTMLInputElement).blur())}
                  className="mt-1 h-6 w-full rounded border border-line-strong bg-raised px-1.5 text-xs outline-none focus:border-pick"
                />
              )
            }
          />
          {blocked && <p className="mt-2 text-rust">A proof fails. Mend it, take it out, or say why it may.</p>}
        </section>
        <div className="flex justify-end gap-2">
          <Button look="framed" onClick={onClose}>
            Cancel
          </Button>
          {known !== null ? (
            <Button
              look="strong"
              onClick={() => {
                onClose();
                adopt(module, known);
              }}
            >
              Be {versionWords(known)}
            </Button>
          ) : (
            <Button look="strong" disabled={!mayPublish} onClick={go}>
              Publish {versionWords(version)}
            </Button>
          )}
        </div>
      </form>
    </Modal>
  );
}
