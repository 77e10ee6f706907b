import { useState } from 'react';
import { shownResults } from '@umberfish/core';
import { selectProject, useSend, useStore } from '../state/store.ts';
import { remarked } from '../state/ui-slice.ts';
import { Button } from '../ui/button.tsx';
import { Choice } from '../ui/choice.tsx';
import { Modal } from '../ui/modal.tsx';
import { exportResult } from './exporting.ts';
import { catalogue } from '../state/catalogue.ts';

/** Writes a result at the present frame to a file. */
export function ExportDialog({ onClose }: { onClose(): void }) {
  const project = useStore(selectProject);
  const frame = useStore((s) => s.ui.frame);
  const picked = useStore((s) => s.ui.objects[0]);
  const results = project ? shownResults(catalogue(), project) : [];
  const [node, setNode] = useState(results.find((r) => r.object === picked)?.node ?? results[0]?.node ?? '');
  const [format, setFormat] = useState<'obj' | 'glb'>('obj');
  const send = useSend();
  const run = () => {
    if (!project) return;
    exportResult(project, node, frame, format)
      .then((text) => send(remarked({ text, kind: 'done' })))
      .catch((e: unknown) => send(remarked({ text: (e as Error).message, kind: 'wrong' })));
    onClose();
  };
  return (
    <Modal
      open
      title="Export a result"
      about={`The mesh as it is at frame ${frame}, in metres, y up. Points keep their order.`}
      onClose={onClose}
    >
      {results.length === 0 ? (
        <p className="text-soft">Nothing is shown yet. Add a Show Mesh node; what it shows can be exported.</p>
      ) : (
        <>
          <div className="grid grid-cols-[120px_1fr] items-center gap-2">
            <span className="text-soft">Result</span>
            <Choice
              label="Result"
              value={node}
              options={results.map((r) => ({ value: r.node, label: r.name }))}
              onChange={setNode}
            />
            <span className="text-soft">Format</span>
            <Choice
              label="Format"
              value={format}
              options={[
                { value: 'obj', label: 'OBJ: polygons as they are' },
                { value: 'glb', label: 'GLB: glTF in one file, triangles' },
              ]}
              onChange={(v) => setFormat(v as 'obj' | 'glb')}
            />
          </div>
          <div className="mt-5 flex justify-end gap-2">
            <Button onClick={onClose}>Cancel</Button>
            <Button look="strong" onClick={run}>
              Export
            </Button>
          </div>
        </>
      )}
    </Modal>
  );
}
