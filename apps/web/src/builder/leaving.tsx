import { useEffect } from 'react';
import { useBlocker } from 'react-router';
import { saveProjectFile } from '../storage/files.ts';
import { autosave } from '../storage/index.ts';
import { selectProject, useStore } from '../state/store.ts';
import { Button } from '../ui/button.tsx';
import { Modal } from '../ui/modal.tsx';

/** Waits with leaving the project until it is saved, and asks where it cannot be. */
export function Leaving() {
  const blocker = useBlocker(() => autosave.isUnsaved);
  const project = useStore(selectProject);
  const save = useStore((s) => s.save);
  const blocked = blocker.state === 'blocked' ? blocker : null;
  const where = blocked?.location;
  useEffect(() => {
    if (where) void autosave.flush();
  }, [where]);
  useEffect(() => {
    if (blocked && !autosave.isUnsaved) blocked.proceed();
  }, [blocked, save]);
  if (!blocked || !project || save.status === 'saving' || save.status === 'saved') return null;
  const elsewhere = save.status === 'elsewhere';
  const why = elsewhere
    ? `It was ${save.isRemoved ? 'removed' : 'changed'} in another tab, so what you did here since is not saved.`
    : `What you did last is not saved: ${save.status === 'failed' ? save.reason : 'the save has not ended yet'}.`;
  return (
    <Modal open title={`Leave "${project.name}"?`} about={why} onClose={() => blocked.reset()}>
      <div data-leaving className="mt-4 flex flex-wrap justify-end gap-2">
        <Button onClick={() => blocked.proceed()}>Leave without saving</Button>
        <Button look="framed" onClick={() => saveProjectFile(project)}>
          Save to a file
        </Button>
        {elsewhere && (
          <Button look="framed" onClick={() => void autosave.keepMine()}>
            {save.isRemoved ? 'Keep it and leave' : 'Keep mine and leave'}
          </Button>
        )}
        <Button look="strong" onClick={() => blocked.reset()}>
          Stay here
        </Button>
      </div>
    </Modal>
  );
}
