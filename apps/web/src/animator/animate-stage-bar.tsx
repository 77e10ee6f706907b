import { forgetView, keepView, type Project } from '@umberfish/core';
import type { View } from '../builder/stage/view.ts';
import { toggleTrails } from '../builder/scene/commands.ts';
import { applyEdit, useSend, useStore } from '../state/store.ts';
import { uiSet, type StageTool } from '../state/ui-slice.ts';
import { Button } from '../ui/button.tsx';
import { Menu } from '../ui/menu.tsx';

const TOOLS: readonly [StageTool, string, string][] = [
  ['move', 'Move', 'Handle that moves what is picked (M)'],
  ['turn', 'Turn', 'Handle that turns it (T)'],
  ['size', 'Size', 'Handle that sizes it (S)'],
];
const NO_VIEWS: Project['views'] = [];
const GHOSTS: readonly { label: string; before: number; after: number; every: number }[] = [
  { label: 'None', before: 0, after: 0, every: 4 },
  { label: '1 before, 1 after, 4 frames apart', before: 1, after: 1, every: 4 },
  { label: '2 before, 2 after, 4 frames apart', before: 2, after: 2, every: 4 },
  { label: '3 before, 2 after, 2 frames apart', before: 3, after: 2, every: 2 },
  { label: '3 before, 3 after, 8 frames apart', before: 3, after: 3, every: 8 },
];

/** Tools over the stage: handles on the left; trails, ghosts of other frames and views on the right. */
export function AnimateStageBar({ view, onFrame }: { view: View | null; onFrame(): void }) {
  const tool = useStore((s) => s.ui.tool);
  const space = useStore((s) => s.ui.toolSpace);
  const trails = useStore((s) => s.ui.trails.length > 0);
  const picked = useStore((s) => s.ui.objects.length > 0);
  const ghosts = useStore((s) => s.ui.ghosts);
  const views = useStore((s) => s.project.project?.views ?? NO_VIEWS);
  const send = useSend();
  const small = '!h-6 !px-1.5 text-xs';
  return (
    <div className="absolute inset-x-0 top-0 z-10 flex h-9 items-center justify-between border-b border-line bg-raised px-1">
      <div role="toolbar" aria-label="Stage tools" className="flex items-center">
        {TOOLS.map(([t, label, hint]) => (
          <Button key={t} className={small} pressed={tool === t} hint={hint} onClick={() => send(uiSet({ tool: t }))}>
            {label}
          </Button>
        ))}
        <span className="mx-0.5 h-4 w-px bg-line" />
        <Button
          className={small}
          hint="The handle stands along the axes of the world, or along its own"
          onClick={() => send(uiSet({ toolSpace: space === 'world' ? 'local' : 'world' }))}
        >
          {space === 'world' ? 'World axes' : 'Own axes'}
        </Button>
      </div>
      <div className="flex items-center">
        <Button
          className={small}
          pressed={trails}
          disabled={!picked && !trails}
          hint="The way of what is picked over the range"
          onClick={toggleTrails}
        >
          Trail
        </Button>
        <Menu
          align="end"
          trigger={
            <Button className={small} pressed={ghosts.before + ghosts.after > 0}>
              {ghosts.before + ghosts.after > 0 ? `Frames −${ghosts.before} +${ghosts.after}` : 'Other frames'} ▾
            </Button>
          }
          items={GHOSTS.map(({ label, ...to }) => ({ label, onSelect: () => send(uiSet({ ghosts: to })) }))}
        />
        <Menu
          align="end"
          trigger={<Button className={small}>View ▾</Button>}
          items={[
            { label: 'Frame what is picked, or all', keys: 'F', onSelect: onFrame },
            null,
            ...(['front', 'left', 'right', 'top'] as const).map((side) => ({
              label: side === 'top' ? 'From above' : side === 'front' ? 'From the front' : `From the ${side}`,
              onSelect: () => view?.look(side),
            })),
            null,
            ...views.map((v) => ({ label: v.name, onSelect: () => view?.goTo(v.eye, v.target) })),
            {
              label: 'Keep this view',
              onSelect: () => view && applyEdit('Keep a view', keepView(view.place.eye, view.place.target)),
            },
            ...(views.length > 0
              ? [
                  {
                    label: `Forget ${views[views.length - 1].name}`,
                    onSelect: () => applyEdit('Forget a view', forgetView(views[views.length - 1].id)),
                  },
                ]
              : []),
          ]}
        />
      </div>
    </div>
  );
}
