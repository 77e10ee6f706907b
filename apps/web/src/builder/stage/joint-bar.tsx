import {
  chainOf,
  insertJoint,
  jointsOf,
  mirrorJoints,
  nameAcross,
  objectsById,
  orientJoints,
  type ObjectRecord,
  type Project,
} from '@umberfish/core';
import { applyEdit, selectProject, useSend, useStore } from '../../state/store.ts';
import { objectsPicked, remarked, uiSet } from '../../state/ui-slice.ts';
import { Button } from '../../ui/button.tsx';
import { Menu } from '../../ui/menu.tsx';

/** What can be done with joints; it stands at the foot of the stage while a chain or a joint is picked. */
export function JointBar() {
  const project = useStore(selectProject);
  const picked = useStore((s) => s.ui.objects);
  const drawing = useStore((s) => s.ui.drawing);
  const send = useSend();
  const objects = project ? objectsById(project.objects) : undefined;
  const object = objects?.get(picked[0]);
  if (!project || !object || (object.type !== 'chain' && object.type !== 'joint')) return null;
  const chain = object.type === 'chain' ? object : chainOf(objectsById(project.objects), object);
  const joints = picked.flatMap((id) => jointsAt(project, objects?.get(id)));
  const insert = () => {
    const made = insertJoint(project, object.id);
    if (!made)
      return send(
        remarked({ text: 'A joint is put between one without keys on its place and what that hangs under.', kind: 'wrong' }),
      );
    applyEdit('Insert joint', made.edit);
    send(objectsPicked([made.made.id]));
  };
  const mirror = (axis: 0 | 1 | 2) => {
    if (!chain) return;
    const { edit, made } = mirrorJoints(project, joints, chain.id, axis, (name) => nameAcross(name, project.sides));
    if (made.length === 0)
      return send(
        remarked({ text: 'No joint here has a side in its name without a partner. Name them as in "Left wing".', kind: 'wrong' }),
      );
    applyEdit('Mirror joints', edit);
    send(objectsPicked(made.map((m) => m.id)));
    send(
      remarked({
        text: `Made ${made
          .map((m) => m.name)
          .slice(0, 4)
          .join(', ')}${made.length > 4 ? ' …' : ''}.`,
        kind: 'done',
      }),
    );
  };
  return (
    <div
      data-foot-bar
      data-joint-bar={joints.length}
      className="absolute inset-x-2 bottom-2 flex flex-wrap items-center gap-x-1 gap-y-1 rounded border border-line bg-raised/95 px-1.5 py-1 text-xs shadow-sm"
    >
      <Button
        pressed={drawing}
        disabled={picked.length !== 1}
        onClick={() => send(uiSet({ drawing: !drawing }))}
        hint="Click in the stage: each click puts the next joint, in the middle of a body that is there. Escape ends it"
      >
        {drawing ? 'Done drawing' : 'Draw joints'}
      </Button>
      <Button
        disabled={object.type !== 'joint' || picked.length !== 1}
        onClick={insert}
        hint="Puts a joint half way to the one above; nothing moves"
      >
        Insert
      </Button>
      <Menu
        trigger={
          <button type="button" className="h-6 rounded px-1.5 text-soft hover:bg-sunk" disabled={!chain}>
            Mirror…
          </button>
        }
        items={(['x', 'y', 'z'] as const).map((axis, k) => ({
          label: `Across ${axis} of the chain, by the names of sides`,
          onSelect: () => mirror(k as 0 | 1 | 2),
        }))}
      />
      <Menu
        trigger={
          <button type="button" className="h-6 rounded px-1.5 text-soft hover:bg-sunk">
            Orient…
          </button>
        }
        items={ORIENTATIONS.map(([along, up]) => ({
          label: `${along} along the bone, ${up} up`,
          onSelect: () => applyEdit('Orient joints', orientJoints(project, joints, along, up, [0, 1, 0])),
        }))}
      />
      <span className="flex-1" />
      <span className="text-soft">
        {drawing
          ? 'Click where the next joint goes.'
          : object.type === 'chain'
            ? `${joints.length} joints`
            : `of ${chain?.name ?? 'no chain'}`}
      </span>
    </div>
  );
}

const ORIENTATIONS = [
  ['x', 'y'],
  ['x', 'z'],
  ['y', 'z'],
  ['y', 'x'],
  ['z', 'y'],
] as const;

/** A joint; of a chain all of them. */
const jointsAt = (project: Project, object: ObjectRecord | undefined): string[] =>
  !object
    ? []
    : object.type === 'chain'
      ? jointsOf(project.objects, object.id).map((j) => j.id)
      : object.type === 'joint'
        ? [object.id]
        : [];
