import { ReactFlowProvider } from '@xyflow/react';
import { lazy, Suspense, useEffect, useMemo, useRef, useState, type DragEvent } from 'react';
import { usePanelRef } from 'react-resizable-panels';
import { Navigate, useLocation, useNavigate, useParams } from 'react-router';
import { METRES_Y_UP } from '@umberfish/formats/units';
import { ACCEPTED_FILES } from '@umberfish/formats/endings';
import { redone, undone } from '../state/project-slice.ts';
import { selectProject, store, useStore } from '../state/store.ts';
import { FilePicker } from '../ui/file-picker.tsx';
import { uiSet } from '../state/ui-slice.ts';
import { saveProjectFile } from '../storage/files.ts';
import { GRAPH_COMMANDS } from './bench/graph-commands.ts';
import { setPaused } from './bench/bench-header.tsx';
import { takeModuleFiles } from './modules/library-commands.ts';
import { MAKE_EVENT, moduleCommands } from './modules/commands.ts';
import { Leaving } from './leaving.tsx';
import { MissingProject } from './missing-project.tsx';
import { useOpenProject } from './use-open-project.ts';
import type { PageCommand } from './page-command.ts';
import { usePageKeys } from './page-keys.ts';
import { PaletteDialog } from './palette-dialog.tsx';
import { ADDITIONS } from './scene/add-object.ts';
import { poseCommands } from './scene/commands.ts';
import { RENAME_EVENT } from './scene/object-menu.ts';
import { Reading } from './reading.tsx';
import { Trouble } from './trouble.tsx';
import { TimeStrip } from './time/time-strip.tsx';
import { BuildTools, TopBar } from './top-bar.tsx';
import { fold, WorkArea } from './work-area.tsx';
import { arrange, toggleStageAlone } from './arrangement.ts';

// Sheets are fetched when they are opened.
const ExportDialog = lazy(() => import('./export-dialog.tsx').then((m) => ({ default: m.ExportDialog })));
const ImportDialog = lazy(() => import('./import-dialog.tsx').then((m) => ({ default: m.ImportDialog })));
const RenameDialog = lazy(() => import('./scene/rename-dialog.tsx').then((m) => ({ default: m.RenameDialog })));
const HandOutDialog = lazy(() => import('./hand-out/hand-out-dialog.tsx').then((m) => ({ default: m.HandOutDialog })));
const AnimationFileDialog = lazy(() =>
  import('./hand-out/animation-file-dialog.tsx').then((m) => ({ default: m.AnimationFileDialog })),
);
const MakeDialog = lazy(() => import('./modules/make-dialog.tsx').then((m) => ({ default: m.MakeDialog })));

/** Scene and settings, bench, stage over readout, time strip. */
export default function BuildPage() {
  const { id = '' } = useParams();
  const project = useStore(selectProject);
  const location = useLocation();
  const go = useNavigate();
  const { open, missing } = useOpenProject(id);
  const [files, setFiles] = useState<readonly File[] | null>(null);
  const [exporting, setExporting] = useState(false);
  const [making, setMaking] = useState(false);
  useEffect(() => {
    const make = () => setMaking(true);
    window.addEventListener(MAKE_EVENT, make);
    return () => window.removeEventListener(MAKE_EVENT, make);
  }, []);
  const [over, setOver] = useState(false);
  useEffect(() => {
    const rename = () => setRenaming(store.getState().ui.objects);
    window.addEventListener(RENAME_EVENT, rename);
    return () => window.removeEventListener(RENAME_EVENT, rename);
  }, []);
  const [renaming, setRenaming] = useState<readonly string[] | null>(null);
  const picker = useRef<HTMLInputElement>(null);
  const channelPicker = useRef<HTMLInputElement>(null);
  const keysPicker = useRef<HTMLInputElement>(null);
  const [handingOut, setHandingOut] = useState(false);
  const [leaving, setLeaving] = useState(false);
  const settled = useStore((s) => s.evaluation.settled);
  const side = usePanelRef();
  const stage = usePanelRef();
  const folds = useMemo(() => ({ side, stage }), [side, stage]);
  const bring = async (files: readonly File[]) => {
    const given = await takeModuleFiles(files);
    if (given.length === 0) return;
    // Fetched when there is something to read.
    const { asksForUnits, importIntoProject } = await import('./importing.ts');
    if (asksForUnits(given)) setFiles(given);
    else void importIntoProject(given, METRES_Y_UP);
  };

  // Mesh files dropped on the shelf come along once.
  const brought = useRef(false);
  useEffect(() => {
    const given = (location.state as { files?: File[] } | null)?.files ?? [];
    if (!open || brought.current || given.length === 0) return;
    brought.current = true;
    void go(location.pathname, { replace: true, state: null });
    void bring(given);
  }, [open, location, go]);

  usePageKeys();

  const commands = useMemo(
    (): PageCommand[] => [
      { label: 'Import a mesh…', run: () => picker.current?.click() },
      { label: 'Export a result…', run: () => setExporting(true) },
      { label: 'Hand out to animators…', run: () => setHandingOut(true) },
      { label: 'Save a file for animation', run: () => setLeaving(true) },
      { label: 'Take keys back from a file for animation…', run: () => keysPicker.current?.click() },
      { label: 'Animate: the page for posing and keys', run: () => void go(`/p/${id}/animate`) },
      {
        label: 'Save the project to a file',
        keys: 'Ctrl S',
        run: () => void (store.getState().project.project && saveProjectFile(store.getState().project.project!)),
      },
      ...ADDITIONS,
      { label: 'Fold or unfold scene and settings', run: () => fold(folds.side.current) },
      { label: 'Fold or unfold stage and readout', run: () => fold(folds.stage.current) },
      { label: 'Next arrangement of bench and stage', keys: 'W', run: () => arrange() },
      { label: 'Stage alone, or with everything', keys: 'Shift W', run: toggleStageAlone },
      { label: 'Pause or resume evaluation', run: () => setPaused(!store.getState().ui.paused) },
      {
        label: 'Play or pause',
        keys: 'Space',
        run: () => store.dispatch(uiSet({ playing: !store.getState().ui.playing })),
      },
      ...Object.values(GRAPH_COMMANDS),
      ...moduleCommands(),
      ...poseCommands(
        (ids) => setRenaming(ids),
        () => channelPicker.current?.click(),
      ),
      { label: 'Undo', keys: 'Ctrl Z', run: () => store.dispatch(undone()) },
      { label: 'Redo', keys: 'Ctrl Shift Z', run: () => store.dispatch(redone()) },
      {
        label: 'Day or night',
        run: () => store.dispatch(uiSet({ theme: store.getState().ui.theme === 'day' ? 'night' : 'day' })),
      },
      { label: 'Back to the shelf', run: () => void go('/') },
    ],
    [go, folds, id],
  );

  if (missing) return <MissingProject why={missing} />;
  if (project?.forAnimation) return <Navigate to={`/p/${id}/animate`} replace />;
  if (!open || !project) return <p className="p-8 text-soft">Opening…</p>;

  const drop = (e: DragEvent) => {
    e.preventDefault();
    setOver(false);
    void bring([...e.dataTransfer.files]);
  };
  return (
    <ReactFlowProvider>
      <main
        data-build={project.id}
        data-settled={settled}
        className="flex h-full flex-col"
        onDragOver={(e) => {
          if (![...e.dataTransfer.types].includes('Files')) return;
          e.preventDefault();
          setOver(true);
        }}
        onDragLeave={(e) => e.currentTarget === e.target && setOver(false)}
        onDrop={drop}
      >
        <h1 className="sr-only">{project.name}</h1>
        <TopBar
          page="build"
          items={[
            { label: 'Export a result…', onSelect: () => setExporting(true) },
            { label: 'Import a mesh…', onSelect: () => picker.current?.click() },
            null,
            { label: 'Hand out to animators…', onSelect: () => setHandingOut(true) },
            { label: 'Save a file for animation', onSelect: () => setLeaving(true) },
            { label: 'Take keys back from a file…', onSelect: () => keysPicker.current?.click() },
          ]}
        >
          <BuildTools />
        </TopBar>
        <WorkArea key={project.id} project={project.id} folds={folds} onImport={(given) => void bring(given)} />
        <TimeStrip />
        {over && (
          <div className="pointer-events-none fixed inset-3 z-40 grid place-content-center rounded-md border-2 border-dashed border-pick bg-pick-wash/70 font-serif text-xl">
            Drop to import: OBJ, GLB or glTF
          </div>
        )}
        <FilePicker picker={picker} accept={`.json,${ACCEPTED_FILES}`} multiple onFiles={(given) => void bring(given)} />
        <FilePicker
          picker={channelPicker}
          name="channels"
          accept=".csv"
          onFiles={([file]) => void import('./scene/read-channels.ts').then((m) => m.readChannelsFile(file))}
        />
        <FilePicker
          picker={keysPicker}
          name="keys"
          accept=".json"
          onFiles={([file]) => void import('./hand-out/files-for-animation.ts').then((m) => m.takeKeysFrom(file))}
        />
        <Suspense fallback={null}>
          {files && <ImportDialog files={files} onClose={() => setFiles(null)} />}
          {renaming && <RenameDialog ids={renaming} onClose={() => setRenaming(null)} />}
          {making && <MakeDialog onClose={() => setMaking(false)} />}
          {exporting && <ExportDialog onClose={() => setExporting(false)} />}
          {leaving && <AnimationFileDialog project={project} onClose={() => setLeaving(false)} />}
          {handingOut && <HandOutDialog onClose={() => setHandingOut(false)} />}
        </Suspense>
        <Trouble />
        <Reading />
        <Leaving />
        <PaletteDialog commands={commands} />
      </main>
    </ReactFlowProvider>
  );
}
