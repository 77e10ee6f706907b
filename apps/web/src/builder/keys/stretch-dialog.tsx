import { useState } from 'react';
import { Button } from '../../ui/button.tsx';
import { Modal } from '../../ui/modal.tsx';
import { NumberField } from '../../ui/number-field.tsx';

interface Props {
  count: number;
  onStretch(time: number, value: number): void;
  onClose(): void;
}

/** Stretches keys by typed factors. */
export function StretchDialog({ count, onStretch, onClose }: Props) {
  const [by, setBy] = useState({ time: 1, value: 1 });
  const stretch = () => {
    onStretch(by.time, by.value);
    onClose();
  };
  return (
    <Modal
      open
      title={`Stretch ${count} ${count === 1 ? 'key' : 'keys'}`}
      about="In time about the present frame; in value about what each track is there. A factor below 0 turns round."
      onClose={onClose}
    >
      <div className="grid grid-cols-2 gap-3">
        {(['time', 'value'] as const).map((part) => (
          <label key={part} className="flex items-center gap-2">
            <span className="w-12 text-soft">{part === 'time' ? 'Time' : 'Value'}</span>
            <NumberField
              label={`Stretch in ${part}`}
              prefix="×"
              range={{ min: -4, max: 4 }}
              value={by[part]}
              onChange={(v) => typeof v === 'number' && setBy({ ...by, [part]: v })}
            />
          </label>
        ))}
      </div>
      <div className="mt-4 flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button look="strong" disabled={by.time === 0} onClick={stretch}>
          Stretch
        </Button>
      </div>
    </Modal>
  );
}
