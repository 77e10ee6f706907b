import { Blocks, FileUp, FolderOpen, Plus } from 'lucide-react';
import { useEffect, useRef, useState, type DragEvent } from 'react';
import { useNavigate } from 'react-router';
import demoThumbnail from '@umberfish/demo/thumbnail.jpg?url';
import { useSend, useStore } from '../state/store.ts';
import { remarked, uiSet } from '../state/ui-slice.ts';
import { keepNewProject, keepProject, closeOnPage } from '../storage/open.ts';
import { isModuleText, readModuleFile } from '@umberfish/core';
import { ACCEPTED_FILES } from '@umberfish/formats/endings';
import { keepModule } from '../storage/library.ts';
import { fetchDemo, openProjectFile } from '../storage/files.ts';
import { binProject, DAYS_KEPT, removeForGood } from '../storage/bin.ts';
import { database, isNoRoom, isStored, listProjects, storageReason, type StoredProject } from '../storage/database.ts';
import { Button } from '../ui/button.tsx';
import { Modal } from '../ui/modal.tsx';
import { Bin } from './bin.tsx';
import { ProjectCard } from './project-card.tsx';

const DEMO_ID = 'lantern-quay';

/** The shelf: every project in this browser, the demo, a new one, one from a file. */
export function Shelf() {
  const [projects, setProjects] = useState<StoredProject[] | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [over, setOver] = useState(false);
  const [asking, setAsking] = useState<Question | null>(null);
  const picker = useRef<HTMLInputElement>(null);
  const go = useNavigate();
  const send = useSend();
  const theme = useStore((s) => s.ui.theme);

  const [changes, setChanges] = useState(0);
  const refresh = () => {
    setChanges((n) => n + 1);
    return listProjects()
      .then((found) => {
        setProjects(found);
        setTrouble(null);
      })
      .catch((error: unknown) => {
        setProjects([]);
        setTrouble(
          `Projects cannot be stored: ${storageReason(error)}. You can still work: save to a file before you close the tab.`,
        );
      });
  };
  useEffect(() => {
    closeOnPage();
    const heard = database.whenBlocked(() =>
      setTrouble('A tab with an older version of Umberfish holds the projects of this browser. Close it, and they are here.'),
    );
    void refresh();
    return heard;
  }, []);

  /** Mesh files go along to the Build page, which asks for their units. */
  const visit = (id: string, files: readonly File[] = []) => void go(`/p/${id}/build`, { state: { files } });
  const attempt =
    (work: () => Promise<string>, files: readonly File[] = []) =>
    () =>
      work()
        .then((id) => visit(id, files))
        .catch((error: unknown) => send(remarked({ text: (error as Error).message, kind: 'wrong' })));

  // Another tab, or an early click, may know of projects that the list here does not: what is stored is asked.
  const openDemo = async (): Promise<string> => {
    if (await isStored(DEMO_ID).catch(() => false)) return DEMO_ID;
    return keepProject(await fetchDemo());
  };
  const startNew = () => keepNewProject(`Project ${(projects?.length ?? 0) + 1}`);
  const openFiles = (files: readonly File[]): void => {
    const project = files.find((f) => f.name.toLowerCase().endsWith('.json'));
    if (!project) return void attempt(startNew, files)();
    void project.text().then(
      (text) => {
        if (!isModuleText(text)) return attempt(async () => keepProject(await openProjectFile(project)))();
        return keepModule(readModuleFile(text))
          .then(() => go('/modules'))
          .catch((error: unknown) => send(remarked({ text: `${project.name}: ${(error as Error).message}`, kind: 'wrong' })));
      },
      (error: unknown) => send(remarked({ text: `${project.name} cannot be read: ${(error as Error).message}`, kind: 'wrong' })),
    );
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    const files = [...event.dataTransfer.files];
    if (files.length > 0) openFiles(files);
  };

  const remove = ({ id, name, isFinal = false }: Question) => {
    setAsking(null);
    const done = isFinal ? `"${name}" is gone for good.` : `"${name}" is in the bin for ${DAYS_KEPT} days.`;
    (isFinal ? removeForGood(id) : binProject(id))
      .then(() => send(remarked({ text: done, kind: 'done' })))
      .then(refresh)
      .catch((error: unknown) => {
        if (isFinal || !isNoRoom(error))
          return send(remarked({ text: `It was not removed: ${storageReason(error)}.`, kind: 'wrong' }));
        setAsking({
          title: `Remove "${name}" for good?`,
          about: 'The browser has no room left to keep it in the bin. Save it to a file first if you may need it.',
          yes: 'Remove it for good',
          id,
          name,
          isFinal: true,
        });
      });
  };

  const others = (projects ?? []).filter((p) => p.id !== DEMO_ID);
  const demo = projects?.find((p) => p.id === DEMO_ID);
  return (
    <main
      data-shelf={projects ? 'ready' : 'loading'}
      className={`h-full overflow-auto ${over ? 'bg-pick-wash' : ''}`}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
    >
      <header className="mx-auto flex max-w-5xl items-end justify-between px-8 pt-14 pb-8">
        <div>
          <h1 className="font-serif text-4xl font-semibold tracking-tight text-umber">Umberfish</h1>
          <p className="mt-2 max-w-md text-[15px] text-soft">
            Build deformers and constraints as graphs; hand them on with a few clear dials.
          </p>
        </div>
        <div className="flex gap-2">
          <Button onClick={() => send(uiSet({ theme: theme === 'day' ? 'night' : 'day' }))}>
            {theme === 'day' ? 'Night tide' : 'Daylight'}
          </Button>
          <Button
            look="framed"
            onClick={() => picker.current?.click()}
            hint="Open a project file, or start a project from an OBJ, GLB or glTF mesh. Files can also be dropped on this page."
          >
            <FolderOpen size={15} /> Open a file
          </Button>
          <Button look="framed" onClick={() => void go('/modules')} hint="Parts with a few clear dials, to put on any mesh">
            <Blocks size={15} /> Modules
          </Button>
          <Button look="strong" onClick={attempt(startNew)}>
            <Plus size={15} /> New project
          </Button>
          <input
            ref={picker}
            type="file"
            multiple
            hidden
            data-picker="shelf"
            accept={`.json,${ACCEPTED_FILES}`}
            onChange={(e) => {
              const files = [...(e.target.files ?? [])];
              e.target.value = '';
              if (files.length > 0) openFiles(files);
            }}
          />
        </div>
      </header>
      {trouble && <p className="mx-auto mb-4 max-w-5xl px-8 text-rust">{trouble}</p>}
      <section className="mx-auto grid max-w-5xl grid-cols-3 gap-5 px-8 pb-8" aria-label="Projects">
        <ProjectCard
          name="Lantern Quay"
          about={demo ? `Demo · changed ${when(demo.changedAt)}` : 'Demo · a pufferfish that swells, water that breathes'}
          thumbnail={demo?.thumbnail ?? demoThumbnail}
          onOpen={attempt(openDemo)}
          menu={
            demo
              ? [
                  {
                    label: 'Put back as shipped',
                    onSelect: () =>
                      setAsking({
                        title: 'Put Lantern Quay back as shipped?',
                        about: `As it is now it goes to the bin, and can be restored from there for ${DAYS_KEPT} days.`,
                        yes: 'Put it back',
                        id: DEMO_ID,
                        name: demo.name,
                      }),
                  },
                ]
              : []
          }
        />
        {others.map((p) => (
          <ProjectCard
            key={p.id}
            name={p.name}
            about={`Changed ${when(p.changedAt)}`}
            thumbnail={p.thumbnail}
            onOpen={() => visit(p.id)}
            menu={[
              {
                label: 'Remove…',
                onSelect: () =>
                  setAsking({
                    title: `Remove "${p.name}"?`,
                    about: `It goes to the bin, and can be restored from there for ${DAYS_KEPT} days.`,
                    yes: 'Remove it',
                    id: p.id,
                    name: p.name,
                  }),
              },
            ]}
          />
        ))}
        <button
          type="button"
          onClick={() => picker.current?.click()}
          className="flex min-h-56 flex-col items-center justify-center gap-2 rounded-md border border-dashed border-line-strong p-6 text-center text-soft hover:bg-raised"
        >
          <FileUp size={20} aria-hidden />
          <span>
            Drop a project file here, or a mesh
            <br />
            (OBJ, GLB, glTF) to begin with it
          </span>
        </button>
      </section>
      <Bin changes={changes} onChange={() => void refresh()} />
      {asking && (
        <Modal open title={asking.title} about={asking.about} onClose={() => setAsking(null)}>
          <div className="mt-4 flex justify-end gap-2">
            <Button onClick={() => setAsking(null)}>Keep it</Button>
            <Button look="strong" onClick={() => remove(asking)}>
              {asking.yes}
            </Button>
          </div>
        </Modal>
      )}
    </main>
  );
}

/** What is asked before a project is removed. */
interface Question {
  title: string;
  about: string;
  yes: string;
  id: string;
  name: string;
  /** It does not go to the bin. */
  isFinal?: boolean;
}

function when(time: number): string {
  const minutes = Math.round((Date.now() - time) / 60_000);
  if (minutes < 1) return 'just now';
  if (minutes < 60) return `${minutes} min ago`;
  const hours = Math.round(minutes / 60);
  return hours < 24 ? `${hours} h ago` : new Date(time).toLocaleDateString('en-GB');
}
