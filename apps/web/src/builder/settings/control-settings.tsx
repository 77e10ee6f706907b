import { changeObjectOf, CONTROL_SHAPES, NEW_CONTROL, type Control, type ObjectOf, type Project } from '@umberfish/core';
import { gestureEnded } from '../../state/project-slice.ts';
import { applyEdit, store } from '../../state/store.ts';
import { Choice } from '../../ui/choice.tsx';
import { ColourField } from '../../ui/colour-field.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Switch } from '../../ui/switch.tsx';
import { FieldRow } from './field-row.tsx';
import { Triple } from './triple.tsx';

const NAMES: Record<Control['shape'], string> = {
  ring: 'Ring',
  square: 'Square',
  ball: 'Ball',
  arrow: 'Arrow',
  cross: 'Cross',
  curve: 'A drawn curve',
};

const endGesture = () => store.dispatch(gestureEnded());

/** What a locator or a joint is taken hold of by on the stage: a shape with its size, colour and place. */
export function ControlSettings({ project, object }: { project: Project; object: ObjectOf<'locator'> | ObjectOf<'joint'> }) {
  const { control } = object;
  const write = (label: string, to: Control | null, gesture: string | null = null) =>
    applyEdit(label, changeObjectOf(object.type, object.id, { control: to }), gesture && `${gesture} ${object.id}`);
  const change = (part: Partial<Control>, gesture: string | null = null) =>
    control && write('Change a control', { ...control, ...part }, gesture);
  const curves = project.objects.filter((o) => o.type === 'curve');
  return (
    <section aria-label="Control" className="mt-1 flex flex-col gap-1.5 border-t border-line pt-1.5">
      <FieldRow label="Control" help="The shape animators take hold of on the stage.">
        <Choice
          label="Shape of the control"
          value={control?.shape ?? 'none'}
          options={[
            { value: 'none', label: object.type === 'joint' ? 'Its bones only' : 'Plain cross' },
            ...CONTROL_SHAPES.map((s) => ({ value: s, label: NAMES[s] })),
          ]}
          onChange={(v) =>
            write('Shape of a control', v === 'none' ? null : { ...(control ?? NEW_CONTROL), shape: v as Control['shape'] })
          }
        />
      </FieldRow>
      {control?.shape === 'curve' && (
        <FieldRow label="Drawing" help="The curve object whose lines it takes, in that object's own space.">
          <Choice
            label="Drawing of the control"
            value={control.curve ?? ''}
            options={curves.map((c) => ({ value: c.id, label: c.name }))}
            empty={curves.length > 0 ? 'Choose a curve' : 'Draw a curve first'}
            onChange={(curve) => change({ curve })}
          />
        </FieldRow>
      )}
      {control && (
        <>
          <FieldRow label="Width" help={control.shape === 'curve' ? 'A factor of the drawing.' : 'How wide the shape is.'}>
            <NumberField
              label="Width of the control"
              unit={control.shape === 'curve' ? '×' : 'm'}
              value={control.size}
              range={{ min: 0.05, max: 3 }}
              onChange={(v, g) => typeof v === 'number' && change({ size: v }, g)}
              onEnd={endGesture}
            />
          </FieldRow>
          <FieldRow label="Colour" help="Its colour while it is not picked.">
            <ColourField
              label="Colour of the control"
              value={control.colour}
              onChange={(colour, g) => change({ colour }, g)}
              onEnd={endGesture}
            />
          </FieldRow>
          <Triple
            label="Offset"
            help="Where the middle of the shape is, in its own space."
            unit="m"
            value={control.offset}
            range={[-2, 2]}
            zero={0}
            onChange={(offset, g) => change({ offset }, g)}
          />
          <FieldRow label="In front" help="Drawn over everything, or hidden behind what is in front of it.">
            <Switch label="In front of everything" checked={control.inFront} onChange={(inFront) => change({ inFront })} />
          </FieldRow>
        </>
      )}
    </section>
  );
}
