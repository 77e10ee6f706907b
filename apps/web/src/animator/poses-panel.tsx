import { changePose, forgetPose, type PoseRecord, type Project } from '@umberfish/core';
import { Ellipsis, Plus } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { gestureEnded } from '../state/project-slice.ts';
import { applyEdit, store, useStore } from '../state/store.ts';
import { Button } from '../ui/button.tsx';
import { Hint } from '../ui/hint.tsx';
import { Menu } from '../ui/menu.tsx';
import { TextField } from '../ui/text-field.tsx';
import { applyPose, keepThisPose, poseStart, renewPose, type PoseStart } from './pose-commands.ts';

const NO_POSES: Project['poses'] = [];

/** The pose that is put on, how much of it, and what was there before. */
interface Taken {
  readonly id: string;
  readonly start: PoseStart | null;
  readonly amount: number;
  /** On what is picked alone. */
  readonly onPicked: boolean;
}

/** Poses that were kept: a click puts one on, a slider a part of it or more than all. */
export function PosesPanel() {
  const poses = useStore((s) => s.project.project?.poses ?? NO_POSES);
  const picked = useStore((s) => s.ui.objects.length);
  const frame = useStore((s) => s.ui.frame);
  const [taken, setTaken] = useState<Taken | null>(null);
  const pose = poses.find((p) => p.id === taken?.id);
  // Somewhere else it begins anew, from what is there.
  useEffect(() => setTaken((t) => t && { ...t, start: null, amount: 0 }), [frame]);
  return (
    <section aria-label="Poses" data-poses={poses.length} className="border-t border-line px-3 pt-2 pb-4">
      <header className="flex items-baseline justify-between">
        <h2 className="font-serif text-[15px] font-semibold">Poses</h2>
        <Button
          className="!h-6 !px-1.5 text-xs !text-umber"
          hint={picked > 0 ? 'Keeps what is picked as it is now' : 'Keeps everything as it is now'}
          onClick={keepThisPose}
        >
          <Plus size={12} /> Keep this one
        </Button>
      </header>
      {poses.length === 0 && (
        <p className="mt-1 text-xs leading-snug text-soft">
          None yet. Pose something and keep it; a click brings it back, at any frame.
        </p>
      )}
      <ul className="mt-1 grid grid-cols-3 gap-2">
        {poses.map((p) => (
          <Card key={p.id} pose={p} chosen={p.id === taken?.id} onTake={setTaken} />
        ))}
      </ul>
      {pose && taken && <HowMuch key={pose.id} pose={pose} taken={taken} onTake={setTaken} />}
    </section>
  );
}

function Card({ pose, chosen, onTake }: { pose: PoseRecord; chosen: boolean; onTake(taken: Taken): void }) {
  const [naming, setNaming] = useState(false);
  const put = (onPicked: boolean) => {
    const start = poseStart();
    if (!start) return;
    onTake({ id: pose.id, start, amount: 1, onPicked });
    applyPose(pose, 1, start, { onPicked });
  };
  return (
    <li data-pose={pose.name} className="min-w-0">
      <Hint text={`Puts ${pose.name} on, whole`}>
        <button
          type="button"
          aria-label={`Put on ${pose.name}`}
          onClick={() => put(false)}
          className={`block aspect-[3/2] w-full overflow-hidden rounded border bg-sunk ${chosen ? 'border-2 border-pick' : 'border-line-strong hover:border-umber'}`}
        >
          {pose.picture ? (
            <img src={pose.picture} alt="" className="size-full object-cover" />
          ) : (
            <span className="font-serif text-2xl text-faint">{pose.name.slice(0, 1)}</span>
          )}
        </button>
      </Hint>
      <div className="flex items-center">
        {naming ? (
          <TextField
            label={`Name of ${pose.name}`}
            value={pose.name}
            onChange={(name) => {
              setNaming(false);
              if (name.trim()) applyEdit('Rename a pose', changePose(pose.id, { name: name.trim() }));
            }}
          />
        ) : (
          <span className="min-w-0 flex-1 truncate text-xs" title={pose.name}>
            {pose.name}
          </span>
        )}
        <Menu
          align="end"
          trigger={
            <button type="button" aria-label={`More for ${pose.name}`} className="p-0.5 text-faint hover:text-ink">
              <Ellipsis size={12} />
            </button>
          }
          items={[
            { label: 'Put it on what is picked', onSelect: () => put(true) },
            { label: 'Rename', onSelect: () => setNaming(true), takesFocus: true },
            { label: 'Take the pose as it is now', onSelect: () => renewPose(pose) },
            { label: 'Remove', onSelect: () => applyEdit('Remove a pose', forgetPose(pose.id)) },
          ]}
        />
      </div>
    </li>
  );
}

/** How much of a pose: from as it was to the pose, and beyond. */
function HowMuch({ pose, taken, onTake }: { pose: PoseRecord; taken: Taken; onTake(taken: Taken): void }) {
  const gesture = useRef<string | null>(null);
  const slide = (amount: number) => {
    const start = taken.start ?? poseStart();
    if (!start) return;
    gesture.current ??= `pose ${pose.id} ${performance.now()}`;
    onTake({ ...taken, start, amount });
    applyPose(pose, amount, start, { gesture: gesture.current, onPicked: taken.onPicked });
  };
  const end = () => {
    gesture.current = null;
    store.dispatch(gestureEnded());
  };
  return (
    <div className="mt-2 grid grid-cols-[76px_1fr_44px] items-center gap-2 text-xs">
      <Hint text="How much of the pose: at 0 it is as it was before, at 100 % the pose, more goes beyond">
        <span className="truncate text-soft">{pose.name}</span>
      </Hint>
      <input
        type="range"
        aria-label={`How much of ${pose.name}`}
        min={0}
        max={1.5}
        step={0.01}
        value={taken.amount}
        onChange={(e) => slide(Number(e.target.value))}
        onPointerUp={end}
        onBlur={end}
        className="h-3 w-full accent-umber"
      />
      <span className="number text-right">{Math.round(taken.amount * 100)} %</span>
    </div>
  );
}
