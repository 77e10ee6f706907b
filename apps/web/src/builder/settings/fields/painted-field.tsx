import { counted, paintedPoints, setPreview, withoutPaint, type Painted } from '@umberfish/core';
import { applyEdit, selectProject, store, useSend, useStore } from '../../../state/store.ts';
import { uiSet } from '../../../state/ui-slice.ts';
import { Button } from '../../../ui/button.tsx';
import { isOnStage } from '../../paint/painting.ts';
import { PaintedJoints } from '../../paint/painted-joints.tsx';
import type { FieldProps, SettingEditor } from './field.ts';

/** How much is painted of each attribute, and the way to the brush. */
function PaintedField({ graph, node, value, write }: FieldProps<'painted'>) {
  const painting = useStore((s) => s.ui.painting?.node === node.id);
  const send = useSend();
  const painted = value as Painted;
  const names = Object.keys(painted.columns).filter((n) => paintedPoints(painted, n) > 0);
  const begin = () => {
    const project = selectProject(store.getState());
    if (project && !isOnStage(project, { graph, id: node.id })) applyEdit('Show node', setPreview(graph.id, node.id));
    send(uiSet({ painting: { node: node.id, colours: 'heat' } }));
  };
  return (
    <div className="flex min-w-0 flex-1 flex-col items-stretch gap-1">
      <Button
        look={painting ? 'framed' : 'strong'}
        className="!h-7 !px-2 text-xs"
        pressed={painting}
        hint="Draw on the mesh in the stage; Escape ends it"
        onClick={painting ? () => send(uiSet({ painting: null })) : begin}
      >
        {painting ? 'Done painting' : 'Paint'}
      </Button>
      {painting && <PaintedJoints />}
      {names.map((name) => (
        <span key={name} className="flex items-center gap-1 text-xs">
          <span className="min-w-0 flex-1 truncate text-soft" title={name}>
            <span className="number text-ink">{name}</span> on {counted(paintedPoints(painted, name), 'point')}
          </span>
          <Button
            className="!h-6 !px-1.5 text-xs"
            aria-label={`Forget ${name}`}
            hint="Takes away what was painted of it"
            onClick={() => write(withoutPaint(painted, name))}
          >
            Forget
          </Button>
        </span>
      ))}
    </div>
  );
}

export const paintedEditor: SettingEditor<'painted'> = { field: PaintedField, alone: true, worked: true };
