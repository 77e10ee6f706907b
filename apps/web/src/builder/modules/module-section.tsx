import {
  CATALOGUE,
  changeModule,
  changeWords,
  compareWalls,
  counted,
  moduleKey,
  usesOf,
  versionWords,
  type ModuleFile,
  type ModuleRecord,
  type ResultMove,
} from '@umberfish/core';
import { lazy, Suspense, useState } from 'react';
import { useLibrary } from '../../library/use-library.ts';
import { newerOf } from '../../storage/library.ts';
import { applyEdit, selectProject, store, useStore } from '../../state/store.ts';
import { Button } from '../../ui/button.tsx';
import { plainNumber } from '../../ui/format.ts';
import { TextField } from '../../ui/text-field.tsx';
import { lookInside, partUse, unpackPicked } from './commands.ts';
import { publishing as publishingOf, updateLoses, updateUses, whatChanges } from './library-commands.ts';

// Sheets come when they are opened.
const ProofsDialog = lazy(() => import('./proofs-dialog.tsx').then((m) => ({ default: m.ProofsDialog })));
const PublishDialog = lazy(() => import('./publish-dialog.tsx').then((m) => ({ default: m.PublishDialog })));

/** Of a use: what its module is, and what can be done with it. */
export function ModuleSection({ path, module }: { path: string; module: ModuleRecord }) {
  const project = useStore(selectProject);
  const library = useLibrary();
  const [publishing, setPublishing] = useState(false);
  const [proving, setProving] = useState(false);
  if (!project) return null;
  const key = moduleKey(module);
  const uses = usesOf(project, key).length;
  const newer = library && newerOf(library, module);
  // Changed and changed back is as it was published.
  const isChanged = module.edited && !publishingOf(module).isSame;
  const small = '!h-6 !px-2 text-xs';
  return (
    <section aria-label="Module" data-module={key} className="mb-1 flex flex-col gap-1.5 border-b border-line pb-2">
      <h3 className="text-soft">
        Module <strong className="font-serif font-semibold text-ink">{module.name}</strong>
      </h3>
      <p className="text-xs leading-snug text-soft">
        {module.version > 0 ? `Version ${versionWords(module.version)}${isChanged ? ', changed since' : ''}.` : 'Not published.'}{' '}
        {uses === 1 ? 'Used here only.' : `${counted(uses, 'use')} in this project: a change inside shows in all.`}
      </p>
      {newer && (
        <div data-newer={versionWords(newer.file.module.version)} className="border-l-2 border-moss pl-2 text-xs leading-snug">
          <p>
            The library has <strong>{versionWords(newer.file.module.version)}</strong>.{' '}
            {changeWords(compareWalls(CATALOGUE, module, newer.file.module))} {newer.file.note}
          </p>
          <Losses from={module} file={newer.file} />
          <Changes from={module} file={newer.file} />
          <div className="mt-1 flex flex-wrap gap-1">
            {uses > 1 && (
              <Button
                look="framed"
                className={small}
                onClick={() => updateUses(module, newer.file, { graph: store.getState().ui.graph ?? '', node: path })}
              >
                Update this use
              </Button>
            )}
            <Button look="framed" className={small} onClick={() => updateUses(module, newer.file)}>
              Update {uses > 1 ? 'all' : 'it'}
            </Button>
          </div>
        </div>
      )}
      <TextField
        label="What the module does"
        value={module.summary}
        placeholder="What it does, in a line"
        onChange={(summary) => applyEdit('Describe module', changeModule(key, { summary }))}
      />
      <div className="flex flex-wrap gap-1">
        <Button
          look="framed"
          className={small}
          onClick={() => lookInside(path)}
          hint="Its cards, with the numbers of this use (Enter)"
        >
          Look inside
        </Button>
        {uses > 1 && (
          <Button look="framed" className={small} onClick={partUse} hint="Parts this use from the others">
            Own copy
          </Button>
        )}
        <Button look="framed" className={small} onClick={unpackPicked} hint="Turns it back into cards; nothing changes">
          Unpack
        </Button>
        <Button look="framed" className={small} onClick={() => setProving(true)} hint="What it promises, and whether it keeps it">
          Proofs…
        </Button>
        <Button
          look="framed"
          className={small}
          onClick={() => setPublishing(true)}
          hint="Writes a version into the library, for other projects"
        >
          Publish…
        </Button>
      </div>
      <Suspense fallback={null}>
        {proving && <ProofsDialog module={module} onClose={() => setProving(false)} />}
        {publishing && <PublishDialog module={module} onClose={() => setPublishing(false)} />}
      </Suspense>
    </section>
  );
}

const moveWords = ({ most, point }: ResultMove): string => {
  if (most === undefined) return 'other points than now';
  if (Number.isNaN(most)) return `point ${point} comes to no number, or came to none`;
  return `up to ${plainNumber(Number(most.toPrecision(3)))} m, point ${point}`;
};

/** What an update would make count for nothing: wires, keys and values at ways that are gone. */
function Losses({ from, file }: { from: ModuleRecord; file: ModuleFile }) {
  const lost = updateLoses(from, file);
  if (lost.length === 0) return null;
  return (
    <div className="mt-1 text-rust" data-losses={lost.length}>
      An update leaves without effect:
      <ul className="list-disc pl-4">
        {lost.map((text) => (
          <li key={text}>{text}</li>
        ))}
      </ul>
    </div>
  );
}

/** What an update would move on the stage, worked out when it is asked for. */
function Changes({ from, file }: { from: ModuleRecord; file: ModuleFile }) {
  const [moves, setMoves] = useState<readonly ResultMove[] | string | null>(null);
  const look = () => {
    setMoves('Working it out…');
    whatChanges(from, file).then(setMoves, (error: unknown) => setMoves((error as Error).message));
  };
  if (moves === null)
    return (
      <button type="button" className="mt-1 text-umber underline" onClick={look}>
        What changes on the stage?
      </button>
    );
  if (typeof moves === 'string') return <p className="mt-1 text-soft">{moves}</p>;
  return (
    <ul className="mt-1" data-moves={moves.length}>
      {moves.length === 0 && <li>Nothing moves at this frame.</li>}
      {moves.map((m) => (
        <li key={m.name}>
          {m.name}: {moveWords(m)}
        </li>
      ))}
    </ul>
  );
}
