import { forgetView, keepView, type Project } from '@umberfish/core';
import { Button } from '../../ui/button.tsx';
import { Menu } from '../../ui/menu.tsx';
import { applyEdit, useSend, useStore } from '../../state/store.ts';
import { toggleStageAlone } from '../arrangement.ts';
import { usePaintable } from './paintable.ts';
import { uiSet, type StageShading, type StageTool } from '../../state/ui-slice.ts';
import type { View, ViewDirection } from './view.ts';

const TOOLS: readonly [StageTool, string, string][] = [
  ['move', 'Move', 'Handle that moves the picked object (M)'],
  ['turn', 'Turn', 'Handle that turns it (T)'],
  ['size', 'Size', 'Handle that sizes it (S)'],
  ['pivot', 'Pivot', 'Handle that moves its pivot (V), or hold Alt while dragging'],
];
const SHADINGS: readonly [StageShading, string][] = [
  ['shaded', 'Shaded'],
  ['wire', 'Edges'],
  ['points', 'Points'],
];
const LOOKS: readonly [StageShading, string, string][] = [
  ['checker-rest', 'Checker', 'Checker by rest: shows stretch and swimming'],
  ['checker-uv', 'Checker', 'Checker by uv'],
  ['checker-world', 'Checker', 'Checker in the world'],
  ['facing', 'Facing', 'Facing: inside-out faces are red'],
];
const VIEWS: readonly [ViewDirection, string][] = [
  ['front', 'From the front'],
  ['back', 'From the back'],
  ['left', 'From the left'],
  ['right', 'From the right'],
  ['top', 'From above'],
  ['below', 'From below'],
];

const NO_VIEWS: Project['views'] = [];

/** Tools of the stage, above it: over it they would cover what is picked. */
export function StageBar({ view, onFrame }: { view: View | null; onFrame(): void }) {
  const ui = useStore((s) => s.ui);
  const views = useStore((s) => s.project.project?.views ?? NO_VIEWS);
  const send = useSend();
  return (
    <div
      className="absolute inset-x-0 top-0 z-10 flex h-9 items-center overflow-hidden border-b border-line bg-raised px-1"
      role="toolbar"
      aria-label="Stage tools"
    >
      {TOOLS.map(([tool, label, hint]) => (
        <Button
          key={tool}
          className="!h-6 !px-1 text-[11.5px]"
          pressed={ui.tool === tool}
          hint={hint}
          onClick={() => send(uiSet({ tool }))}
        >
          {label}
        </Button>
      ))}
      <span className="mx-0.5 h-4 w-px bg-line" />
      <Menu
        trigger={
          <Button className="!h-6 !px-1 text-[11.5px]">{[...SHADINGS, ...LOOKS].find(([s]) => s === ui.shading)?.[1]} ▾</Button>
        }
        items={[
          ...SHADINGS.map(([shading, label]) => ({ label, onSelect: () => send(uiSet({ shading })) })),
          null,
          ...LOOKS.map(([shading, , label]) => ({ label, onSelect: () => send(uiSet({ shading })) })),
        ]}
      />
      <Button
        className="!h-6 !px-1 text-[11.5px]"
        pressed={ui.ghost}
        hint="Show the undeformed mesh as a ghost (G)"
        onClick={() => send(uiSet({ ghost: !ui.ghost }))}
      >
        Ghost
      </Button>
      <PaintMenu />
      {ui.stageAlone && (
        <Button className="!h-6 !px-1.5 text-xs" hint="Back to bench and settings (Shift W)" onClick={toggleStageAlone}>
          Back to the bench
        </Button>
      )}
      <Menu
        align="end"
        trigger={<Button className="!h-6 !px-1 text-[11.5px]">View ▾</Button>}
        items={[
          { label: 'Frame what is picked, or all', keys: 'F', onSelect: onFrame },
          {
            label: ui.isolate ? 'Show everything' : 'Show only what is picked',
            keys: 'I',
            onSelect: () => send(uiSet({ isolate: !ui.isolate })),
          },
          {
            label: ui.toolSpace === 'world' ? "Handle along the object's own axes" : "Handle along the world's axes",
            onSelect: () => send(uiSet({ toolSpace: ui.toolSpace === 'world' ? 'local' : 'world' })),
          },
          null,
          ...VIEWS.map(([direction, label]) => ({ label, onSelect: () => view?.look(direction) })),
          null,
          ...views.map((v) => ({ label: v.name, onSelect: () => view?.goTo(v.eye, v.target) })),
          {
            label: 'Keep this view',
            onSelect: () => view && applyEdit('Keep view', keepView(view.place.eye, view.place.target)),
          },
          ...(views.length > 0
            ? [
                {
                  label: `Forget "${views.at(-1)?.name}"`,
                  onSelect: () => applyEdit('Forget view', forgetView(views.at(-1)?.id ?? '')),
                },
              ]
            : []),
          {
            label: ui.viewPinned ? 'Opening a graph shows what it moves' : 'Stay here when a graph is opened',
            onSelect: () => send(uiSet({ viewPinned: !ui.viewPinned })),
          },
          null,
          {
            label: ui.coarse ? 'Draw sharply' : 'Draw coarsely, for slow machines',
            onSelect: () => send(uiSet({ coarse: !ui.coarse })),
          },
          null,
          { label: 'Perspective', onSelect: () => view?.setParallel(false) },
          { label: 'Parallel (orthographic)', onSelect: () => view?.setParallel(true) },
        ]}
      />
    </div>
  );
}

/** Any attribute as colour or needles. */
function PaintMenu() {
  const paint = useStore((s) => s.ui.paint);
  const attributes = usePaintable();
  const send = useSend();
  const show = (name: string, as: 'needles' | 'rgb') => () => send(uiSet({ paint: { name, as } }));
  const entries = attributes.flatMap(({ name, type }) => {
    if (type !== 'vector') return [{ label: name, keys: type, onSelect: show(name, 'rgb') }];
    return [
      { label: `${name} as needles`, keys: type, onSelect: show(name, 'needles') },
      { label: `${name} as colour`, keys: type, onSelect: show(name, 'rgb') },
    ];
  });
  return (
    <Menu
      align="end"
      trigger={
        <Button className="!h-6 max-w-28 !px-1.5 text-xs" pressed={paint !== null} hint="Show an attribute as colour or needles">
          <span className="truncate">{paint ? paint.name : 'Attribute'}</span>▾
        </Button>
      }
      items={[
        { label: 'No attribute', disabled: paint === null, onSelect: () => send(uiSet({ paint: null })) },
        null,
        ...(entries.length > 0 ? entries : [{ label: 'Nothing shown has attributes', disabled: true, onSelect: () => {} }]),
      ]}
    />
  );
}
