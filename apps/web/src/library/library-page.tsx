import { versionWords } from '@umberfish/core';
import { ArrowLeft, Search } from 'lucide-react';
import { useMemo, useRef, useState } from 'react';
import { Link } from 'react-router';
import { useSend } from '../state/store.ts';
import { remarked } from '../state/ui-slice.ts';
import { keepModule, moduleInText, type LibraryEntry } from '../storage/library.ts';
import { Button } from '../ui/button.tsx';
import { Details } from './details.tsx';
import { ModulePicture } from './module-picture.tsx';
import { useLibrary } from './use-library.ts';

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
                  <ModulePicture file={newest.file} className="h-28 w-full" />
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
