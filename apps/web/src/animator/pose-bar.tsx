import type { MirrorAxis } from '@umberfish/core';
import { useState } from 'react';
import { gestureEnded } from '../state/project-slice.ts';
import { store, useStore } from '../state/store.ts';
import { remarked } from '../state/ui-slice.ts';
import { Button } from '../ui/button.tsx';
import { Hint } from '../ui/hint.tsx';
import { Menu } from '../ui/menu.tsx';
import { copyPose, mirrorNow, mirrorWrites, pastePose, poseBetween, toRest } from './pose-commands.ts';
import { SidesDialog } from './sides-dialog.tsx';

/** Over the keys: what is done with the whole pose at this frame. */
export function PoseBar() {
  const frame = useStore((s) => s.ui.frame);
  const picked = useStore((s) => s.ui.objects.length);
  const [naming, setNaming] = useState(false);
  const small = '!h-6 !px-2 text-xs';
  return (
    <div role="toolbar" aria-label="Pose" className="flex h-8 shrink-0 items-center gap-1.5 border-b border-line bg-raised px-3">
      <span className="font-serif font-semibold">Pose at frame {frame}</span>
      <span className="text-xs text-faint">{picked > 0 ? 'of what is picked' : 'of everything'}</span>
      <span className="flex-1" />
      <Between />
      <span className="mx-1 h-4 w-px bg-line" />
      <Button className={small} hint="Copy the pose at this frame" onClick={copyPose}>
        Copy
      </Button>
      <Button className={small} hint="Put the copied pose here" onClick={pastePose}>
        Paste
      </Button>
      <Menu
        align="end"
        trigger={<Button className={small}>Mirror ▾</Button>}
        items={[
          ...(['x', 'y', 'z'] as const).map((axis) => ({
            label: <MirrorLine axis={axis} />,
            onSelect: () => mirrorNow(axis),
          })),
          null,
          { label: 'Words for the two sides…', onSelect: () => setNaming(true), takesFocus: true },
        ]}
      />
      <Button className={small} hint="Channels and dials as they are when nothing is done" onClick={toRest}>
        To rest
      </Button>
      {naming && <SidesDialog onClose={() => setNaming(false)} />}
    </div>
  );
}

/** A line of the menu: the axis, and what a mirror across it would write. Only rendered while the menu is open. */
const MirrorLine = ({ axis }: { axis: MirrorAxis }) => (
  <>
    Across {axis} <span className="ml-3 text-xs text-soft">{mirrorWrites(axis)}</span>
  </>
);

/** A slider between the keys before and after this frame. */
function Between() {
  const [favour, setFavour] = useState(0.5);
  const [gesture, setGesture] = useState('');
  const end = () => {
    store.dispatch(gestureEnded());
    setFavour(0.5);
    setGesture('');
  };
  const slide = (to: number) => {
    const mine = gesture || `between ${performance.now()}`;
    setGesture(mine);
    setFavour(to);
    if (!poseBetween(to, mine))
      store.dispatch(remarked({ text: 'Between needs keys before and after this frame; nothing here has both.', kind: 'wrong' }));
  };
  return (
    <label className="flex items-center gap-2 text-xs text-soft">
      <Hint text="Sets the pose between the keys before and after this frame: to the left nearer to the earlier one, beyond the ends further on">
        <span>Between</span>
      </Hint>
      <span className="text-faint">earlier</span>
      <input
        type="range"
        aria-label="Between the key before and the key after"
        min={-0.25}
        max={1.25}
        step={0.01}
        value={favour}
        onChange={(e) => slide(Number(e.target.value))}
        onPointerUp={end}
        onKeyUp={end}
        className="h-3 w-28 accent-umber"
      />
      <span className="text-faint">later</span>
      <span className="number w-9 text-right">{Math.round(favour * 100)} %</span>
    </label>
  );
}
