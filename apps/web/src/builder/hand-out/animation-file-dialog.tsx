import { forAnimation, type Project } from '@umberfish/core';
import { useEffect, useState } from 'react';
import { saveProjectFile } from '../../storage/files.ts';
import { Button } from '../../ui/button.tsx';
import { Modal } from '../../ui/modal.tsx';
import { Findings } from './findings.tsx';
import { useHandOutCheck } from './use-hand-out-check.ts';

/** Saves a copy that opens on Animate, whose rig stays as it is; where something is wrong with it, that is said first. */
export function AnimationFileDialog({ project, onClose }: { project: Project; onClose(): void }) {
  // What it was when it was asked for is what is tried and saved.
  const [leaving] = useState(project);
  const found = useHandOutCheck(leaving);
  const isClean = found?.length === 0;
  const save = () => {
    void saveProjectFile(forAnimation({ ...leaving, name: `${leaving.name} for animation` }));
    onClose();
  };
  useEffect(() => {
    if (isClean) save();
  });
  return (
    <Modal
      open
      title="Save a file for animation"
      about={found ? 'Animators would stumble over this:' : 'Every dial is tried before it leaves.'}
      onClose={onClose}
    >
      <div data-before-leaving={found ? found.length : 'trying'}>
        <Findings found={found} />
        <div className="mt-4 flex justify-end gap-2">
          <Button onClick={onClose}>Back to the rig</Button>
          <Button look={found ? 'strong' : 'framed'} onClick={save}>
            {found ? 'Save it all the same' : 'Save without trying'}
          </Button>
        </div>
      </div>
    </Modal>
  );
}
