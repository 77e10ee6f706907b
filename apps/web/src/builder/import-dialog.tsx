import { useState } from 'react';
import { counted } from '@umberfish/core';
import { Button } from '../ui/button.tsx';
import { Choice } from '../ui/choice.tsx';
import { Modal } from '../ui/modal.tsx';
import { importIntoProject, UNITS } from './importing.ts';

/** Asks for the units and the up axis of an OBJ, which the file itself does not tell. */
export function ImportDialog({ files, onClose }: { files: readonly File[]; onClose(): void }) {
  const [unit, setUnit] = useState('m');
  const [upAxis, setUpAxis] = useState<'y' | 'z'>('y');
  return (
    <Modal
      open
      title={files.length === 1 ? `Import ${files[0].name}` : `Import ${counted(files.length, 'file')}`}
      about={`${files.length > 1 ? `${files.map((f) => f.name).join(', ')}. ` : ''}OBJ files do not say what their numbers mean. Umberfish works in metres with y up.`}
      onClose={onClose}
    >
      <div className="grid grid-cols-[120px_1fr] items-center gap-2">
        <span className="text-soft">One unit is</span>
        <Choice label="Units" value={unit} options={UNITS} onChange={setUnit} />
        <span className="text-soft">Up is</span>
        <Choice
          label="Up axis"
          value={upAxis}
          options={[
            { value: 'y', label: 'y' },
            { value: 'z', label: 'z' },
          ]}
          onChange={(v) => setUpAxis(v as 'y' | 'z')}
        />
      </div>
      <div className="mt-5 flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button
          look="strong"
          onClick={() => {
            onClose();
            void importIntoProject(files, {
              metresPerUnit: UNITS.find((u) => u.value === unit)?.metres ?? 1,
              upAxis,
            });
          }}
        >
          Import
        </Button>
      </div>
    </Modal>
  );
}
