import {
  CATALOGUE,
  KIND_TAGS,
  makeProject,
  makeSphere,
  meshId,
  makeObject,
  newId,
  putOn,
  takeIn,
  versionWords,
  wallsOf,
  writeModuleFile,
  wrongToPutOn,
  emptyGraph,
  type ModuleFile,
  type PortKind,
  type Project,
  proofName,
  type ProofResult,
  type Way,
} from '@umberfish/core';
import { ArrowLeft, Search } from 'lucide-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { useSend } from '../state/store.ts';
import { remarked } from '../state/ui-slice.ts';
import { listProjects, storageReason } from '../storage/database.ts';
import { download, fileName } from '../storage/files.ts';
import { keepModule, moduleInText, removeModule, type LibraryEntry } from '../storage/library.ts';
import { keepProject } from '../storage/open.ts';
import { Button } from '../ui/button.tsx';
import { plainNumber } from '../ui/format.ts';
import { Modal } from '../ui/modal.tsx';
import { ProofList } from './proof-list.tsx';
import { proveAway } from './proving.ts';
import { InsideMap } from './inside-map.tsx';
import { libraryChanged, useLibrary } from './use-library.ts';

/** The library: every module of this browser and those that come along, what each does, and its versions. */
export default function LibraryPage() {
  const entries = useLibrary();
  const [search, setSearch] = useState('');
  const [open, setOpen] = useState<string | null>(null);
  const [over, setOver] = useState(false);
  const picker = useRef<HTMLInputElement>(null);
  const send = useSend();
  const say = (text: string, kind: 'done' | 'wrong' = 'done') => send(remarked({ text, kind }));
  const modules = useMemo(() => {
    const byId = new Map<string, LibraryEntry[]>();
    for (const e of entries ?? []) byId.set(e.file.module.id, [...(byId.get(e.file.module.id) ?? []), e]);
    const wanted = search.trim().toLowerCase().split(/\s+/).filter(Boolean);
    return [...byId.values()].filter(
      ([
        {
          file: { module },
        },
      ]) => {
        const words = [module.name, module.summary, ...module.tags].join(' ').toLowerCase();
        return wanted.every((w) => words.includes(w));
      },
    );
  }, [entries, search]);
  const chosen = modules.find(([e]) => e.file.module.id === open) ?? modules[0];

  const bring = async (files: readonly File[]) => {
    for (const f of files) {
      try {
        const file = moduleInText(await f.text());
        if (!file) throw new Error('The file is no module.');
        const isNew = await keepModule(file);
        say(isNew ? `"${file.module.name}" is in the library now.` : `"${file.module.name}" was in the library already.`);
        setOpen(file.module.id);
        libraryChanged();
      } catch (error) {
        say(`${f.name}: ${(error as Error).message}`, 'wrong');
      }
    }
  };

  return (
    <main
      data-library={entries ? modules.length : 'loading'}
      className={`flex h-full flex-col ${over ? 'bg-pick-wash' : ''}`}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        void bring([...e.dataTransfer.files]);
      }}
    >
      <header className="flex h-14 shrink-0 items-center gap-4 border-b border-line px-6">
        <Link to="/" className="flex items-center gap-1.5 text-soft hover:text-ink" aria-label="Back to the shelf">
          <ArrowLeft size={16} /> Shelf
        </Link>
        <h1 className="font-serif text-xl font-semibold text-umber">Modules</h1>
        <label className="ml-4 flex h-8 w-72 items-center gap-2 rounded border border-line-strong bg-raised px-2 text-soft">
          <Search size={14} />
          <input
            aria-label="Search modules"
            value={search}
            onChange={(e) => setSearch(e.target.value)}
            placeholder="What shall it do?"
            className="min-w-0 flex-1 bg-transparent text-ink outline-none"
          />
        </label>
        <span className="flex-1" />
        <Button
          look="framed"
          onClick={() => picker.current?.click()}
          hint="Brings module files into the library; they can be dropped on this page too"
        >
          Open a module file
        </Button>
        <input
          ref={picker}
          type="file"
          multiple
          hidden
          accept=".json"
          data-picker="modules"
          onChange={(e) => {
            const files = [...(e.target.files ?? [])];
            e.target.value = '';
            void bring(files);
          }}
        />
      </header>
      <div className="flex min-h-0 flex-1">
        <ul
          className="grid min-w-0 flex-1 auto-rows-min grid-cols-[repeat(auto-fill,minmax(200px,1fr))] gap-4 overflow-auto p-6"
          aria-label="Modules"
        >
          {entries && modules.length === 0 && (
            <li className="col-span-full text-soft">Nothing is called that. Try another word, or clear the search.</li>
          )}
          {modules.map(([newest, ...older]) => {
            const { module } = newest.file;
            return (
              <li key={module.id}>
                <button
                  type="button"
                  data-module-card={module.name}
                  aria-pressed={chosen?.[0] === newest}
                  onClick={() => setOpen(module.id)}
                  className={`block w-full overflow-hidden rounded-md border bg-raised text-left ${chosen?.[0] === newest ? 'border-pick' : 'border-line hover:border-line-strong'}`}
                >
                  <InsideMap graph={module.graph} className="h-24 w-full bg-sunk p-3" />
                  <span className="block border-t border-line px-3 py-2">
                    <span className="flex items-baseline justify-between gap-2">
                      <strong className="truncate font-serif text-[15px] font-semibold">{module.name}</strong>
                      <span className="number shrink-0 text-xs text-faint">{versionWords(module.version)}</span>
                    </span>
                    <span className="mt-0.5 line-clamp-2 block h-9 text-xs leading-snug text-soft">
                      {module.summary || 'It does not say what it does.'}
                    </span>
                    <span className="mt-1 block truncate text-[11px] text-faint">
                      {[...module.tags, ...(older.length > 0 ? [`${older.length + 1} versions`] : [])].join(' · ') || ' '}
                    </span>
                  </span>
                </button>
              </li>
            );
          })}
        </ul>
        {chosen && <Details key={chosen[0].file.module.id} versions={chosen} say={say} />}
      </div>
    </main>
  );
}

interface DetailsProps {
  versions: readonly LibraryEntry[];
  say(text: string, kind?: 'done' | 'wrong'): void;
}

/** What a module takes and gives, its versions, where it is used, and what can be done with it. */
function Details({ versions, say }: DetailsProps) {
  const [at, setAt] = useState(0);
  const entry = versions[Math.min(at, versions.length - 1)];
  const { file } = entry;
  const { module } = file;
  const { ins, outs } = wallsOf(CATALOGUE, module.graph);
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
      void go(`/p/${await keepProject(tryingProject(file))}/build`);
    } catch (error) {
      say((error as Error).message, 'wrong');
    }
  };
  const remove = async () => {
    setAsking(false);
    try {
      await removeModule(entry.key);
      say(`"${module.name}" ${versionWords(module.version)} is out of the library. Projects keep theirs.`);
      libraryChanged();
    } catch (error) {
      say(`It was not removed: ${storageReason(error)}.`, 'wrong');
    }
  };
  return (
    <aside
      aria-label={`About ${module.name}`}
      data-about={module.name}
      className="flex w-[340px] shrink-0 flex-col gap-3 overflow-auto border-l border-line p-5"
    >
      <div>
        <h2 className="font-serif text-lg font-semibold">{module.name}</h2>
        <p className="leading-snug text-soft">{module.summary || 'It does not say what it does.'}</p>
      </div>
      <div className="flex flex-wrap gap-2">
        <Button look="strong" onClick={() => void tryIt()} hint="A new project with a ball that it is put on">
          Try it
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
      <Ways title="Dials and ways in" ways={ins} />
      <Ways title="Ways out" ways={outs} />
      <section aria-label="Versions">
        <h3 className="mb-1 font-semibold">Versions</h3>
        <ul className="flex flex-col gap-1">
          {versions.map((v, i) => (
            <li key={v.key}>
              <button
                type="button"
                aria-pressed={i === at}
                onClick={() => setAt(i)}
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
        <ProofList results={results as ProofResult[]} />
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

function Ways({ title, ways }: { title: string; ways: readonly Way[] }) {
  return (
    <section aria-label={title}>
      <h3 className="mb-1 font-semibold">{title}</h3>
      <ul className="flex flex-col gap-1.5">
        {ways.map((w) => (
          <li key={w.id} data-way={w.name} className="grid grid-cols-[34px_1fr_auto] gap-x-2 leading-snug">
            <span className="number pt-0.5 text-[10.5px] text-faint">
              {w.kind in KIND_TAGS ? KIND_TAGS[w.kind as PortKind] : 'set'}
            </span>
            <span>
              {w.name}
              <span className="block text-xs text-soft">{w.help}</span>
            </span>
            <span className="number text-right text-xs text-faint">{defaultOf(w)}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function defaultOf(way: Way): string {
  const { default: value, unit } = way;
  if (typeof value === 'number') return `${plainNumber(value)} ${unit}`;
  if (typeof value === 'object' && value !== null && 'expression' in value) return value.expression;
  return way.control === 'place' ? 'a locator' : '';
}

/** A ball on which the module is put; where it cannot be, a project that has it on the bench. */
function tryingProject(file: ModuleFile) {
  const mesh = makeSphere(1, 48, 64);
  const id = meshId(mesh);
  const ball = makeObject(newId('mesh'), 'Ball', 'mesh', { mesh: id });
  const start: Project = {
    ...makeProject(newId('project'), `Trying ${file.module.name}`),
    assets: [{ id, name: 'Ball', points: mesh.topology.pointCount, faces: mesh.topology.faceCount, origin: 'Made for trying' }],
    objects: [ball],
  };
  const taken = takeIn(start, file);
  const project =
    wrongToPutOn(CATALOGUE, taken.module, [ball]) === undefined
      ? putOn(CATALOGUE, taken.project, taken.module, [ball], () => mesh).project
      : { ...taken.project, graphs: [emptyGraph('Graph 1')] };
  return { project, assets: new Map([[id, mesh]]), repairs: [] };
}
