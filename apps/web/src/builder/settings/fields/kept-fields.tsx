import type { Matrices, Offsets, Snapshot } from '@umberfish/core';
import { Button } from '../../../ui/button.tsx';
import { takeSnapshotNow } from '../../scene/constrain.ts';
import type { FieldProps, SettingEditor } from './field.ts';

/*
 * What commands write into a node: how much there is of it, and how to be rid of it.
 */

function SnapshotField({ graph, node, value }: FieldProps<'snapshot'>) {
  const taken = value as Snapshot | null;
  return (
    <div className="flex flex-1 flex-wrap items-center gap-1">
      <span className="flex-1 text-xs text-soft">{taken ? `of ${taken.drivers.length} taken` : 'not taken yet'}</span>
      {node.settings.object !== null && (
        <Button look="framed" className="!h-6 !px-2 text-xs" onClick={() => void takeSnapshotNow(graph.id, node.id)}>
          Take snapshot now
        </Button>
      )}
    </div>
  );
}

function OffsetsField({ value, write }: FieldProps<'offsets'>) {
  const { length } = (value as Offsets).index;
  if (length === 0)
    return <span className="text-xs leading-snug text-soft">None yet: click a point in the stage and drag its handle.</span>;
  return (
    <CountRow count={length} onClear={() => write({ points: 0, index: [], moves: [] })}>
      Put all back
    </CountRow>
  );
}

function MatricesField({ setting, value, write }: FieldProps<'matrices'>) {
  return (
    <CountRow count={(value as Matrices).matrices.length} onClear={() => write(setting.default)}>
      Leave them out
    </CountRow>
  );
}

/** How many there are of something, and a button that takes them away. */
function CountRow({ count, onClear, children }: { count: number; onClear(): void; children: string }) {
  return (
    <>
      <span className="number flex-1 pr-2 text-right">{count}</span>
      <Button look="framed" className="!h-6 !px-2 text-xs" onClick={onClear}>
        {children}
      </Button>
    </>
  );
}

export const snapshotEditor: SettingEditor<'snapshot'> = { field: SnapshotField, worked: true };
export const offsetsEditor: SettingEditor<'offsets'> = { field: OffsetsField, worked: true };
export const matricesEditor: SettingEditor<'matrices'> = { field: MatricesField, worked: true };
