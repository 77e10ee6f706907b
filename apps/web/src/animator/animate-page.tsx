import { lazy, Suspense, useEffect, useState } from 'react';
import { Group, Panel } from 'react-resizable-panels';
import { useParams } from 'react-router';
import { Leaving } from '../builder/leaving.tsx';
import { MissingProject } from '../builder/missing-project.tsx';
import { usePageKeys } from '../builder/page-keys.ts';
import { TimeStrip } from '../builder/time/time-strip.tsx';
import { TopBar } from '../builder/top-bar.tsx';
import { Trouble } from '../builder/trouble.tsx';
import { useOpenProject } from '../builder/use-open-project.ts';
import { selectProject, store, useSend, useStore } from '../state/store.ts';
import { uiSet } from '../state/ui-slice.ts';
import { Divider } from '../ui/divider.tsx';
import { DialsPanel } from './dials-panel.tsx';
import { PoseBar } from './pose-bar.tsx';
import { PosesPanel } from './poses-panel.tsx';

const AnimateStage = lazy(() => import('./animate-stage.tsx'));
const AnimationFileDialog = lazy(() =>
  import('../builder/hand-out/animation-file-dialog.tsx').then((m) => ({ default: m.AnimationFileDialog })),
);
const KeysPanel = lazy(() => import('../builder/keys/keys-panel.tsx').then((m) => ({ default: m.KeysPanel })));

/** How high keys are shown at first, and how wide dials are (pixels). */
const KEYS = '178px';
const DIALS = '312px';

/** A big stage with what is taken hold of, the dials and poses beside it, keys and time below. */
export default function AnimatePage() {
  const { id = '' } = useParams();
  const project = useStore(selectProject);
  const { open, missing } = useOpenProject(id);
  const settled = useStore((s) => s.evaluation.settled);
  const hasKeys = useStore((s) => s.ui.keys !== 'off');
  const send = useSend();
  const [leaving, setLeaving] = useState(false);
  useEffect(() => {
    if (!open) return;
    // How Build had it comes back with Build.
    const { keys, speed, everyFrame } = store.getState().ui;
    send(uiSet({ animating: true, nodes: [], section: null, choosing: null, drawing: false, keys: 'rows', isolate: false }));
    return () => void send(uiSet({ animating: false, playing: false, keys, speed, everyFrame }));
  }, [open, send]);
  usePageKeys();
  if (missing) return <MissingProject why={missing} />;
  if (!open || !project) return <p className="p-8 text-soft">Opening…</p>;
  return (
    <main data-animate={project.id} data-settled={settled} className="flex h-full flex-col">
      <h1 className="sr-only">{project.name}</h1>
      <TopBar
        page="animate"
        items={project.forAnimation ? [] : [{ label: 'Save a file for animation', onSelect: () => setLeaving(true) }]}
      />
      <Group orientation="vertical" className="min-h-0 flex-1">
        <Panel id="above" minSize="240px">
          <Group orientation="horizontal">
            <Panel id="stage" minSize="360px">
              <Suspense fallback={<p className="p-4 text-soft">Opening the stage…</p>}>
                <AnimateStage />
              </Suspense>
            </Panel>
            <Divider />
            <Panel id="dials" defaultSize={DIALS} minSize="280px" className="border-l border-line">
              <div className="flex size-full flex-col overflow-y-auto">
                <DialsPanel />
                <PosesPanel />
              </div>
            </Panel>
          </Group>
        </Panel>
        <Divider horizontal />
        <Panel id="keys" defaultSize={hasKeys ? KEYS : '33px'} minSize="33px">
          <div className="flex size-full flex-col">
            <PoseBar />
            <div className="min-h-0 flex-1">
              <Suspense fallback={null}>
                <KeysPanel />
              </Suspense>
            </div>
          </div>
        </Panel>
      </Group>
      <TimeStrip />
      <Suspense fallback={null}>
        {leaving && <AnimationFileDialog project={project} onClose={() => setLeaving(false)} />}
      </Suspense>
      <Trouble />
      <Leaving />
    </main>
  );
}
