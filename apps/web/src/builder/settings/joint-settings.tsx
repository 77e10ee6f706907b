import { changeObjectOf, type ObjectOf } from '@umberfish/core';
import { gestureEnded } from '../../state/project-slice.ts';
import { applyEdit, store } from '../../state/store.ts';
import { Choice } from '../../ui/choice.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { TextField } from '../../ui/text-field.tsx';
import { FieldRow } from './field-row.tsx';

type Joint = ObjectOf<'joint'>;
type Limit = NonNullable<Joint['limit']>;

const endGesture = () => store.dispatch(gestureEnded());
const FRESH: Record<Limit['kind'], Limit> = {
  hinge: { kind: 'hinge', axis: 0, from: -90, to: 90 },
  cone: { kind: 'cone', axis: 0, lean: 45, from: -30, to: 30 },
};

/** What solvers ask of a joint: how stiff and heavy it is, and where it may turn to. */
export function JointSettings({ object }: { object: Joint }) {
  const { limit } = object;
  const write = (label: string, part: Partial<Joint>, gesture: string | null = null) =>
    applyEdit(label, changeObjectOf('joint', object.id, part), gesture && `${gesture} ${object.id}`);
  const number = (
    label: string,
    help: string,
    value: number,
    unit: string,
    range: [number, number],
    to: (v: number) => Partial<Joint>,
  ) => (
    <FieldRow label={label} help={help}>
      <NumberField
        label={`${label} of the joint`}
        unit={unit}
        value={value}
        range={{ min: range[0], max: range[1] }}
        onChange={(v, g) => typeof v === 'number' && write(label, to(v), g)}
        onEnd={endGesture}
      />
    </FieldRow>
  );
  return (
    <section aria-label="Joint" className="mt-1 flex flex-col gap-1.5 border-t border-line pt-1.5">
      {number('Stiffness', 'For solvers: 0 turns freely, 1 not at all.', object.stiffness, '', [0, 1], (v) => ({
        stiffness: Math.min(1, Math.max(0, v)),
      }))}
      {number('Mass', 'For the middle of the masses; only shares count.', object.mass, 'kg', [0, 20], (v) => ({
        mass: Math.max(0, v),
      }))}
      <FieldRow
        label="Also weighs"
        help="Other names whose weights it takes: those it had, and of joints below it that were removed. Names with commas between."
      >
        <TextField
          label="Also takes weights of"
          value={object.also.join(', ')}
          onChange={(text) =>
            write('Weights it takes', {
              also: [...new Set(text.split(',').flatMap((n) => n.trim() || []))],
            })
          }
        />
      </FieldRow>
      <FieldRow label="Limit" help="For solvers: where it may turn to, from its rest, as its parent sees it.">
        <Choice
          label="Limit of the joint"
          value={limit?.kind ?? 'none'}
          options={[
            { value: 'none', label: 'Turns as it likes' },
            { value: 'hinge', label: 'A hinge' },
            { value: 'cone', label: 'A cone and a twist' },
          ]}
          onChange={(v) => write('Limit', { limit: v === 'none' ? null : FRESH[v as Limit['kind']] })}
        />
      </FieldRow>
      {limit && (
        <>
          <FieldRow label={limit.kind === 'hinge' ? 'About' : 'Axis'} help="Its own axis, at rest.">
            <Choice
              label="Axis of the limit"
              value={String(limit.axis)}
              options={['x', 'y', 'z'].map((label, k) => ({ value: String(k), label }))}
              onChange={(v) => write('Limit', { limit: { ...limit, axis: Number(v) as 0 | 1 | 2 } })}
            />
          </FieldRow>
          {limit.kind === 'cone' &&
            number('Lean', 'How far its axis may lean from where it rests.', limit.lean, '°', [0, 180], (lean) => ({
              limit: { ...limit, lean },
            }))}
          {number(
            limit.kind === 'hinge' ? 'From' : 'Twist from',
            'The least turn about the axis.',
            limit.from,
            '°',
            [-180, 180],
            (from) => ({ limit: { ...limit, from } }),
          )}
          {number(
            limit.kind === 'hinge' ? 'To' : 'Twist to',
            'The greatest turn about the axis.',
            limit.to,
            '°',
            [-180, 180],
            (to) => ({ limit: { ...limit, to } }),
          )}
        </>
      )}
    </section>
  );
}
