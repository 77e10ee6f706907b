import { useState } from 'react';
import { applyEdit } from '../../state/store.ts';
import { Button } from '../../ui/button.tsx';
import { Modal } from '../../ui/modal.tsx';
import { renameMany } from './pose-commands.ts';

/** Names many objects at once. */
export function RenameDialog({ ids, onClose }: { ids: readonly string[]; onClose(): void }) {
  const [pattern, setPattern] = useState('');
  const rename = () => {
    if (!pattern.trim()) return;
    applyEdit('Rename objects', renameMany(ids, pattern.trim()));
    onClose();
  };
  return (
    <Modal
      open
      title={`Rename ${ids.length} ${ids.length === 1 ? 'object' : 'objects'}`}
      about="# becomes the number, in the order they were picked: Buoy # gives Buoy 1, Buoy 2…"
      onClose={onClose}
    >
      <input
        autoFocus
        aria-label="Name pattern"
        value={pattern}
        placeholder="Buoy #"
        onChange={(e) => setPattern(e.target.value)}
        onKeyDown={(e) => e.key === 'Enter' && rename()}
        className="h-8 w-full rounded border border-line-strong bg-paper px-2 outline-none focus:border-pick"
      />
      <div className="mt-4 flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button look="strong" disabled={ids.length === 0 || !pattern.trim()} onClick={rename}>
          Rename
        </Button>
      </div>
    </Modal>
  );
}
