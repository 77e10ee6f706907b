import { useEffect, useState } from 'react';
import { plausibleUnit } from '@umberfish/formats/units';
import { counted } from '@umberfish/core';
import { Button } from '../ui/button.tsx';
import { Choice } from '../ui/choice.tsx';
import { Modal } from '../ui/modal.tsx';
import { formatNumber } from '../ui/format.ts';
import { extentAway, importIntoProject, UNITS } from './importing.ts';

type Extent = readonly [number, number, number];

/** How large it will be, and what is odd about that. */
function Size({ extent, unit, upAxis }: { extent: Extent; unit: string; upAxis: 'y' | 'z' }) {
  const metres = UNITS.find((u) => u.value === unit)?.metres ?? 1;
  const [x, y, z] = extent.map((v) => v * metres);
  const turned = upAxis === 'z' ? [x, z, y] : [x, y, z];
  const better = plausibleUnit(Math.max(...extent), UNITS);
  return (
    <>
      It will be <span className="number">{turned.map((v) => sizeWords(v)).join(' × ')} m</span> (wide, high, deep).
      {better && better.value !== unit && plausibleUnit(Math.max(...extent), [{ metres }, better]) === better && (
        <span className="text-umber"> That is unlikely; {better.label.toLowerCase()} would do.</span>
      )}
    </>
  );
}

/** A length with two digits that count, or more. */
const sizeWords = (v: number): string => (v >= 10 ? formatNumber(v, 1) : v >= 0.1 ? formatNumber(v, 2) : formatNumber(v, 4));

/** Asks for the units and the up axis of an OBJ, which the file itself does not tell. */
export function ImportDialog({ files, onClose }: { files: readonly File[]; onClose(): void }) {
  const [chosen, setUnit] = useState<string | null>(null);
  const [upAxis, setUpAxis] = useState<'y' | 'z'>('y');
  const [extent, setExtent] = useState<Extent | undefined>(undefined);
  useEffect(() => {
    let here = true;
    extentAway(files).then(
      (found) => here && setExtent(found),
      () => {},
    );
    return () => {
      here = false;
    };
  }, [files]);
  // As long as nothing is chosen, the unit in which it has a size that things have.
  const likely = extent ? (plausibleUnit(Math.max(...extent), UNITS)?.value ?? 'm') : 'm';
  const unit = chosen ?? likely;
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
      <p className="mt-3 min-h-5 leading-snug" data-extent={extent !== undefined || undefined}>
        {extent && <Size extent={extent} unit={unit} upAxis={upAxis} />}
      </p>
      <div className="mt-4 flex justify-end gap-2">
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
