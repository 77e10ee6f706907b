import { lazy, Suspense, useEffect, useMemo, useRef, type RefObject } from 'react';
import {
  Group,
  Panel,
  useGroupRef,
  type GroupImperativeHandle,
  type Layout,
  type PanelImperativeHandle,
} from 'react-resizable-panels';
import { store, useStore } from '../state/store.ts';
import { uiSet } from '../state/ui-slice.ts';
import { keepLayout, readLayout, sharesOf, SIDE_IN_PIXELS } from './arrangement.ts';
import { Divider } from '../ui/divider.tsx';
import { Bench } from './bench/bench.tsx';
import { Readout } from './readout/readout.tsx';
import { SceneTree } from './scene/scene-tree.tsx';
import { Settings } from './settings/settings.tsx';

const KeysPanel = lazy(() => import('./keys/keys-panel.tsx').then((m) => ({ default: m.KeysPanel })));
const Stage = lazy(() => import('./stage/stage.tsx'));

/** What can be folded away, and brought back. */
export interface Folds {
  readonly side: RefObject<PanelImperativeHandle | null>;
  readonly stage: RefObject<PanelImperativeHandle | null>;
}

interface Props {
  project: string;
  folds: Folds;
  onImport(files: readonly File[]): void;
}

/** The panels of the page, in shares of the window; how they are parted is remembered by project. */
export function WorkArea({ project, folds, onImport }: Props) {
  const hasKeys = useStore((s) => s.ui.keys !== 'off');
  const stageAlone = useStore((s) => s.ui.stageAlone);
  const columns = useGroupRef();
  const kept = useMemo(() => readLayout(project), [project]);
  useArrangement(project, columns);
  const keep = (group: string) => (layout: Layout) => {
    const { groups } = readLayout(project);
    keepLayout(project, { groups: { ...groups, [group]: layout } });
  };
  return (
    <Group orientation="vertical" className="min-h-0 flex-1">
      <Panel id="work" minSize="200px">
        <Group
          orientation="horizontal"
          groupRef={columns}
          defaultLayout={kept.groups.columns ?? { ...sharesOf(kept.arrangement, window.innerWidth) }}
          onLayoutChanged={keep('columns')}
        >
          <Panel
            id="side"
            panelRef={folds.side}
            minSize={`${SIDE_IN_PIXELS}px`}
            collapsible
            collapsedSize="0px"
            className="border-r border-line"
          >
            <Group orientation="vertical" defaultLayout={kept.groups.side} onLayoutChanged={keep('side')}>
              <Panel id="scene" defaultSize="36%" minSize="90px">
                <SceneTree onImport={onImport} />
              </Panel>
              <Divider horizontal />
              <Panel id="settings" minSize="120px">
                <Settings />
              </Panel>
            </Group>
          </Panel>
          <Divider onFold={() => fold(folds.side.current)} />
          <Panel id="bench" minSize="200px">
            <Bench />
          </Panel>
          <Divider onFold={() => fold(folds.stage.current)} />
          <Panel
            id="stage"
            panelRef={folds.stage}
            minSize="260px"
            collapsible
            collapsedSize="0px"
            className="border-l border-line"
          >
            <Group orientation="vertical" defaultLayout={kept.groups.stage} onLayoutChanged={keep('stage')}>
              <Panel id="picture" defaultSize="58%" minSize="120px">
                <div className={stageAlone ? 'fixed inset-x-0 top-0 bottom-11 z-30' : 'size-full'} data-stage-alone={stageAlone}>
                  <Suspense fallback={<p className="p-4 text-soft">Opening the stage…</p>}>
                    <Stage />
                  </Suspense>
                </div>
              </Panel>
              <Divider horizontal />
              <Panel id="readout" minSize="90px">
                <Readout />
              </Panel>
            </Group>
          </Panel>
        </Group>
      </Panel>
      {hasKeys && (
        <>
          <Divider horizontal onFold={() => store.dispatch(uiSet({ keys: 'off' }))} />
          <Panel id="keys" defaultSize="212px" minSize="96px">
            <Suspense fallback={null}>
              <KeysPanel />
            </Suspense>
          </Panel>
        </>
      )}
    </Group>
  );
}

/** Parts the columns anew when another arrangement is taken; the first is the project's own. */
function useArrangement(project: string, columns: RefObject<GroupImperativeHandle | null>): void {
  const arrangement = useStore((s) => s.ui.arrangement);
  const shown = useRef<string | null>(null);
  useEffect(() => {
    const { arrangement: own } = readLayout(project);
    if (shown.current === null) {
      shown.current = own;
      store.dispatch(uiSet({ arrangement: own }));
      return;
    }
    if (shown.current === arrangement) return;
    shown.current = arrangement;
    keepLayout(project, { arrangement });
    columns.current?.setLayout({ ...sharesOf(arrangement, window.innerWidth) });
  }, [project, arrangement, columns]);
}

/** Folds a panel away, or brings it back at the size it had. */
export function fold(panel: PanelImperativeHandle | null): void {
  if (panel?.isCollapsed()) panel.expand();
  else panel?.collapse();
}
