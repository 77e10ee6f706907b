import { movedKeys, smoothedKeys, TRACK_ENDS, type Key, type KeyTrack, type ChosenKeys, type TrackRow } from '@umberfish/core';
import { Clipboard, Copy, Maximize2, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { useSend, useStore } from '../../state/store.ts';
import { uiSet } from '../../state/ui-slice.ts';
import { Button } from '../../ui/button.tsx';
import { Menu } from '../../ui/menu.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { eachKey } from './each-key.ts';
import { StretchDialog } from './stretch-dialog.tsx';

const ENDS: Record<KeyTrack['after'], string> = {
  hold: 'hold the value',
  cycle: 'begin again',
  'cycle-on': 'begin again from there',
  straight: 'go straight on',
};

interface Props {
  rows: readonly TrackRow[];
  chosen: ChosenKeys;
  onChange(label: string, how: (track: KeyTrack, frames: readonly number[]) => KeyTrack | undefined): void;
  onFit(): void;
  onRemove(): void;
  onCopy(): void;
  onPaste(): void;
  canPaste: boolean;
  onStretch(time: number, value: number): void;
  onMoved(by: number): void;
}

/** Changes the chosen keys. */
export function KeysBar({ rows, chosen, onChange, onFit, onRemove, onCopy, onPaste, canPaste, onStretch, onMoved }: Props) {
  const mode = useStore((s) => s.ui.keys);
  const send = useSend();
  const [stretching, setStretching] = useState(false);
  const keys = rows.flatMap((r) => r.track.keys.filter((k) => chosen.get(r.key)?.includes(k.frame)));
  const none = keys.length === 0;
  const only = keys.length === 1 ? keys[0] : undefined;
  const unit = only ? rows.find((r) => chosen.get(r.key)?.length)?.unit : undefined;
  const each = (label: string, of: (k: Key) => Partial<Key>) => onChange(label, eachKey(of));
  const shape = (s: Key['shape']) => keys.length > 0 && keys.every((k) => k.shape === s);
  const end = (side: 'before' | 'after') => {
    const found = rows.filter((r) => chosen.get(r.key)?.length).map((r) => r.track[side]);
    return found.length > 0 && found.every((v) => v === found[0]) ? ENDS[found[0]] : 'mixed';
  };
  const small = '!h-6 !px-1.5 text-xs';
  return (
    <div
      className="flex h-8 shrink-0 items-center gap-0.5 overflow-hidden border-b border-line px-2"
      role="toolbar"
      aria-label="Keys"
    >
      <Button className={small} pressed={mode === 'rows'} onClick={() => send(uiSet({ keys: 'rows' }))}>
        Rows
      </Button>
      <Button className={small} pressed={mode === 'curves'} onClick={() => send(uiSet({ keys: 'curves' }))}>
        Curves
      </Button>
      <Line />
      <Button className={small} hint="Show all keys (F)" onClick={onFit} aria-label="Fit">
        <Maximize2 size={12} /> Fit
      </Button>
      <Line />
      {(['curve', 'straight', 'step'] as const).map((s) => (
        <Button
          key={s}
          className={small}
          disabled={none}
          pressed={shape(s)}
          hint={SHAPE_HINTS[s]}
          onClick={() => each('Shape of keys', () => ({ shape: s }))}
        >
          {s[0].toUpperCase() + s.slice(1)}
        </Button>
      ))}
      <Line />
      <Button
        className={small}
        disabled={none}
        hint="Handles along the value: the curve is level at these keys"
        onClick={() => each('Level keys', (k) => ({ in: [k.in[0], 0], out: [k.out[0], 0], shape: 'curve' }))}
      >
        Level
      </Button>
      <Button
        className={small}
        disabled={none}
        hint="As smooth as can be without going past the neighbours"
        onClick={() =>
          onChange('Smooth keys', (t, frames) =>
            smoothedKeys(
              {
                ...t,
                keys: t.keys.map((k) => (frames.includes(k.frame) ? { ...k, tied: true, shape: 'curve' as const } : k)),
              },
              frames,
            ),
          )
        }
      >
        Smooth
      </Button>
      <Button
        className={small}
        disabled={none}
        pressed={!none && keys.every((k) => k.tied)}
        hint="Both handles stay in one line"
        onClick={() => each('Tie handles', () => ({ tied: !keys.every((k) => k.tied) }))}
      >
        Tied
      </Button>
      <Line />
      {(['before', 'after'] as const).map((side) => (
        <Menu
          key={side}
          trigger={
            <Button className={small} disabled={none} hint={`What the track does ${side} its keys`}>
              {side}: {none ? '…' : end(side)} ▾
            </Button>
          }
          items={TRACK_ENDS.map((v) => ({
            label: ENDS[v],
            onSelect: () => onChange(`Track ${side} its keys`, (t) => ({ ...t, [side]: v })),
          }))}
        />
      ))}
      <span className="flex-1" />
      {only && (
        <div className="flex w-[210px] gap-1" data-only-key>
          <NumberField
            label="Frame of the key"
            prefix="at"
            whole
            value={only.frame}
            onChange={(v) => {
              if (typeof v !== 'number') return;
              onChange('Move a key', (t, frames) => movedKeys(t, frames, (k) => ({ frame: v, value: k.value })));
              onMoved(v - only.frame);
            }}
          />
          <NumberField
            label="Value of the key"
            unit={unit}
            value={only.value}
            onChange={(v) => typeof v === 'number' && each('Value of a key', () => ({ value: v }))}
          />
        </div>
      )}
      <Menu
        align="end"
        trigger={
          <Button className={small} disabled={none} hint="About the present frame">
            Stretch ▾
          </Button>
        }
        items={[
          { label: 'by numbers…', onSelect: () => setStretching(true) },
          { label: 'to twice the length', onSelect: () => onStretch(2, 1) },
          { label: 'to half the length', onSelect: () => onStretch(0.5, 1) },
          { label: 'backwards', onSelect: () => onStretch(-1, 1) },
        ]}
      />
      {stretching && <StretchDialog count={keys.length} onStretch={onStretch} onClose={() => setStretching(false)} />}
      <Button className={small} disabled={none} hint="Copy (Ctrl C)" aria-label="Copy keys" onClick={onCopy}>
        <Copy size={12} />
      </Button>
      <Button
        className={small}
        disabled={!canPaste}
        hint="Paste at the present frame (Ctrl V)"
        aria-label="Paste keys"
        onClick={onPaste}
      >
        <Clipboard size={12} />
      </Button>
      <Button className={small} disabled={none} hint="Delete" aria-label="Delete keys" onClick={onRemove}>
        <Trash2 size={12} />
      </Button>
    </div>
  );
}

const SHAPE_HINTS = {
  curve: 'A curve by handles up to the next key',
  straight: 'A straight line up to the next key',
  step: 'The value is held up to the next key',
};

const Line = () => <span className="mx-0.5 h-4 w-px shrink-0 bg-line" />;
