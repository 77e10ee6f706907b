import {
  assetIdOf,
  CATALOGUE,
  emptyGraph,
  exampleOf,
  makeProject,
  meshId,
  newId,
  proofName,
  takeIn,
  versionWords,
  wallsOf,
  writeModuleFile,
  type Dials,
  type Mesh,
  type ModuleFile,
  type OpenedProject,
  type Project,
  type ProofResult,
  type Way,
} from '@umberfish/core';
import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { listProjects, storageReason } from '../storage/database.ts';
import { download, fileName } from '../storage/files.ts';
import { removeModule, type LibraryEntry } from '../storage/library.ts';
import { keepProject } from '../storage/open.ts';
import { Button } from '../ui/button.tsx';
import { Modal } from '../ui/modal.tsx';
import { ProofList } from './proof-list.tsx';
import { proveAway } from './proving.ts';
import { DialList, ExampleStage } from './trying.tsx';
import { WayRow } from './way-row.tsx';

interface DetailsProps {
  versions: readonly LibraryEntry[];
  say(text: string, kind?: 'done' | 'wrong'): void;
}

/** What a module takes and gives, its versions, where it is used, and what can be done with it. */
export function Details({ versions, say }: DetailsProps) {
  const [at, setAt] = useState(0);
  const entry = versions[Math.min(at, versions.length - 1)];
  const { file } = entry;
  const { module } = file;
  const { ins, outs } = wallsOf(CATALOGUE, module.graph);
  const [dials, setDials] = useState<Dials>({});
  const [usedIn, setUsedIn] = useState<readonly string[]>([]);
  const [asking, setAsking] = useState(false);
  const go = useNavigate();
  useEffect(() => {
    listProjects()
      .then((all) =>
        setUsedIn(all.filter((p) => (p.document as Project).modules?.some((m) => m.id === module.id)).map((p) => p.name)),
      )
      .catch(() => setUsedIn([]));
  }, [module.id]);
  const tryIt = async () => {
    try {
      void go(`/p/${await keepProject(await tryingProject(file))}/build`);
    } catch (error) {
      say((error as Error).message, 'wrong');
    }
  };
  const remove = async () => {
    setAsking(false);
    try {
      await removeModule(entry.key);
      say(`"${module.name}" ${versionWords(module.version)} is out of the library. Projects keep theirs.`);
    } catch (error) {
      say(`It was not removed: ${storageReason(error)}.`, 'wrong');
    }
  };
  return (
    <aside
      aria-label={`About ${module.name}`}
      data-about={module.name}
      className="flex w-[400px] shrink-0 flex-col gap-3 overflow-auto border-l border-line p-5"
    >
      <div>
        <h2 className="font-serif text-lg font-semibold">{module.name}</h2>
        <p className="leading-snug text-soft">{module.summary || 'It does not say what it does.'}</p>
      </div>
      <ExampleStage key={entry.key} file={file} dials={dials} />
      <div className="flex flex-wrap gap-2">
        <Button look="strong" onClick={() => void tryIt()} hint="A new project with this example, its cards and its dials">
          Try it in a project
        </Button>
        <Button
          look="framed"
          onClick={() =>
            download(
              `${fileName(module.name)}-${versionWords(module.version)}.module.json`,
              writeModuleFile(file),
              'application/json',
            )
          }
        >
          Save as a file
        </Button>
        {!entry.shipped && (
          <Button look="framed" onClick={() => (usedIn.length > 0 ? setAsking(true) : void remove())}>
            Remove
          </Button>
        )}
      </div>
      <DialList file={file} ways={ins} dials={dials} onChange={setDials} />
      <WaysOut ways={outs} />
      <section aria-label="Versions">
        <h3 className="mb-1 font-semibold">Versions</h3>
        <ul className="flex flex-col gap-1">
          {versions.map((v, i) => (
            <li key={v.key}>
              <button
                type="button"
                aria-pressed={i === at}
                onClick={() => {
                  setAt(i);
                  setDials({});
                }}
                className={`w-full rounded border px-2 py-1 text-left ${i === at ? 'border-pick' : 'border-line hover:border-line-strong'}`}
              >
                <span className="number">{versionWords(v.file.module.version)}</span>{' '}
                <span className="text-xs text-faint">{v.shipped ? 'comes with Umberfish' : v.file.date.slice(0, 10)}</span>
                <span className="block text-xs leading-snug text-soft">{v.file.note || 'No note.'}</span>
              </button>
            </li>
          ))}
        </ul>
      </section>
      <Proofs key={entry.key} file={file} />
      <section aria-label="Used in">
        <h3 className="mb-1 font-semibold">Used in</h3>
        <p className="text-xs leading-snug text-soft">
          {usedIn.length === 0
            ? 'No project of this browser. Put it on an object from the palette (Ctrl K) of any project.'
            : usedIn.join(', ')}
        </p>
      </section>
      {asking && (
        <Modal
          open
          title={`Remove "${module.name}" from the library?`}
          about={`${usedIn.join(', ')} ${usedIn.length === 1 ? 'uses' : 'use'} it. They keep the module they hold, and can publish it again.`}
          onClose={() => setAsking(false)}
        >
          <div className="mt-4 flex justify-end gap-2">
            <Button onClick={() => setAsking(false)}>Keep it</Button>
            <Button look="strong" onClick={() => void remove()}>
              Remove it
            </Button>
          </div>
        </Modal>
      )}
    </aside>
  );
}

/** What a version promises, and whether it keeps it. */
function Proofs({ file }: { file: ModuleFile }) {
  const [results, setResults] = useState<readonly ProofResult[] | string | 'trying' | null>(null);
  const { proofs, graph } = file.module;
  const { ins } = wallsOf(CATALOGUE, graph);
  const tryAll = () => {
    setResults('trying');
    proveAway(file).then(setResults, (error: unknown) => setResults((error as Error).message));
  };
  return (
    <section aria-label="Proofs">
      <div className="mb-1 flex items-center justify-between">
        <h3 className="font-semibold">Proofs</h3>
        {proofs.length > 0 && (
          <Button look="framed" className="!h-6 !px-2 text-xs" disabled={results === 'trying'} onClick={tryAll}>
            {results === 'trying' ? 'Trying…' : 'Try them'}
          </Button>
        )}
      </div>
      {proofs.length === 0 && <p className="text-xs text-soft">It promises nothing.</p>}
      {typeof results === 'string' && results !== 'trying' && <p className="text-rust">{results}</p>}
      {Array.isArray(results) ? (
        <ProofList results={results as ProofResult[]} file={file} />
      ) : (
        <ul className="flex flex-col gap-0.5 text-xs text-soft">
          {proofs.map((p, i) => (
            <li key={i}>{proofName(p, (way) => ins.find((w) => w.id === way)?.name ?? way)}</li>
          ))}
        </ul>
      )}
    </section>
  );
}

/** What a module gives. */
function WaysOut({ ways }: { ways: readonly Way[] }) {
  return (
    <section aria-label="Ways out">
      <h3 className="mb-1 font-semibold">Ways out</h3>
      <ul className="flex flex-col gap-1.5">
        {ways.map((w) => (
          <WayRow key={w.id} way={w} />
        ))}
      </ul>
    </section>
  );
}

/** A project with the example of a module; where it has none, one that has the module on the bench. */
async function tryingProject(file: ModuleFile): Promise<OpenedProject> {
  const example = await exampleOf(file);
  const name = `Trying ${file.module.name}`;
  if (typeof example === 'string') {
    const empty = takeIn(makeProject(newId('project'), name), file).project;
    return { project: { ...empty, graphs: [emptyGraph('Graph 1')] }, assets: new Map(), repairs: [] };
  }
  // Meshes of a project are called by what they contain.
  const ids = new Map([...example.assets].map(([id, mesh]) => [id, meshId(mesh)]));
  const used = new Set(example.project.objects.flatMap((o) => assetIdOf(o) ?? []));
  const objects = example.project.objects.map((o) =>
    o.type === 'mesh' && o.mesh !== null ? { ...o, mesh: ids.get(o.mesh) ?? null } : o,
  );
  const kept = example.project.assets.filter((a) => used.has(a.id));
  return {
    project: {
      ...example.project,
      id: newId('project'),
      name,
      objects,
      assets: kept.map((a) => ({ ...a, id: ids.get(a.id) ?? a.id, origin: 'Made for trying' })),
    },
    assets: new Map(kept.map((a) => [ids.get(a.id) ?? a.id, example.assets.get(a.id) as Mesh])),
    repairs: [],
  };
}
