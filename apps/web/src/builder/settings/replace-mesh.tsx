import {
  counted,
  fitOf,
  nodesActingOn,
  nodeTitle,
  type MeshFit,
  type Project,
  replaceMesh,
  type ObjectOf,
} from '@umberfish/core';
import { useRef, useState } from 'react';
import { METRES_Y_UP } from '@umberfish/formats/units';
import { ACCEPTED_FILES } from '@umberfish/formats/endings';
import { engine } from '../../engine/index.ts';
import { applyEdit, store } from '../../state/store.ts';
import { remarked } from '../../state/ui-slice.ts';
import { Button } from '../../ui/button.tsx';
import { formatCount } from '../../ui/format.ts';
import { Modal } from '../../ui/modal.tsx';
import { assetOf, readAway } from '../importing.ts';
import { catalogue } from '../../state/catalogue.ts';

type Read = Awaited<ReturnType<typeof readAway>>['meshes'][number];

/** Brings in a new version of an object's mesh, and tells beforehand how it fits. */
export function ReplaceMesh({ project, object }: { project: Project; object: ObjectOf<'mesh'> }) {
  const picker = useRef<HTMLInputElement>(null);
  const [read, setRead] = useState<Read | null>(null);
  const before = object.mesh === null ? undefined : engine.getAssets().get(object.mesh);
  const bring = async (files: readonly File[]) => {
    try {
      const { meshes } = await readAway(files, METRES_Y_UP);
      const chosen = meshes.find((m) => m.name === object.name) ?? meshes[0];
      if (!chosen) throw new Error('There is no mesh in that file.');
      setRead(chosen);
    } catch (error) {
      store.dispatch(remarked({ text: (error as Error).message, kind: 'wrong' }));
    }
  };
  const replace = () => {
    if (!read) return;
    const { mesh, id } = read;
    engine.addAsset(id, mesh);
    applyEdit(`Replace mesh of ${object.name}`, replaceMesh(object.id, assetOf(read)));
    store.dispatch(remarked({ kind: 'done', text: `The mesh of "${object.name}" is now ${read.origin}.` }));
    setRead(null);
  };
  return (
    <>
      <Button look="framed" onClick={() => picker.current?.click()}>
        Replace mesh…
      </Button>
      <input
        ref={picker}
        type="file"
        hidden
        multiple
        data-picker="replace"
        accept={ACCEPTED_FILES}
        onChange={(e) => {
          const files = [...(e.target.files ?? [])];
          e.target.value = '';
          if (files.length > 0) void bring(files);
        }}
      />
      {read && (
        <Modal open title={`Replace the mesh of ${object.name}`} about={read.origin} onClose={() => setRead(null)}>
          <Report project={project} object={object} fit={before && fitOf(before, read.mesh)} />
          <div className="mt-4 flex justify-end gap-2">
            <Button look="framed" onClick={() => setRead(null)}>
              Keep the old one
            </Button>
            <Button look="strong" onClick={replace}>
              Replace
            </Button>
          </div>
        </Modal>
      )}
    </>
  );
}

function Report({ project, object, fit }: { project: Project; object: ObjectOf<'mesh'>; fit: MeshFit | undefined }) {
  if (!fit) return <p>The old mesh is not in this project's data, so nothing can be compared.</p>;
  const { points, faces, sameOrder, moved, lostAttributes } = fit;
  const nodes = nodesActingOn(catalogue(), project, object.id);
  const byNumber = nodes.filter((n) => n.definition?.byPointNumber);
  const asks = nodes.filter((n) => lostAttributes.includes(String(n.settings.name ?? '')));
  const count = (label: string, c: { before: number; after: number }) =>
    c.before === c.after
      ? `${formatCount(c.after)} ${label}, as before`
      : `${formatCount(c.after)} ${label}, before ${formatCount(c.before)}`;
  return (
    <div data-fit={sameOrder ? 'same' : 'other'} className="flex flex-col gap-2 leading-snug">
      <p>
        {count('points', points)}; {count('faces', faces)}.{' '}
        {sameOrder ? 'Point order is the same.' : 'Point order or faces are not the same.'}{' '}
        {sameOrder && (moved === 0 ? 'No point has moved.' : `${counted(moved, 'point')} ${moved === 1 ? 'has' : 'have'} moved.`)}
      </p>
      {lostAttributes.length > 0 && <p className="text-rust">It no longer has {quoted('attribute', lostAttributes)}.</p>}
      {asks.length > 0 && <p className="text-rust">{asks.map(nodeTitle).join(', ')} asks for that and will say so.</p>}
      {object.sets.length > 0 && (
        <p className={sameOrder ? '' : 'text-rust'}>
          By point number goes{' '}
          {quoted(
            'point set',
            object.sets.map((s) => s.name),
          )}
          {sameOrder ? ', and still fits.' : ': look at it again.'}
        </p>
      )}
      {byNumber.length > 0 && (
        <p className={sameOrder ? '' : 'text-rust'}>
          By point number works {quoted('node', byNumber.map(nodeTitle))}
          {sameOrder ? ', and still fits.' : ': look at it again.'}
        </p>
      )}
      <p className="text-soft">
        {nodes.length === 0
          ? 'No node acts on it.'
          : `${counted(nodes.length, 'node')} ${nodes.length === 1 ? 'acts on it and is' : 'act on it and are'} evaluated anew.`}{' '}
        It can be undone.
      </p>
    </div>
  );
}

/** `the point set "rim"`, or `the point sets "rim", "keel"`. */
const quoted = (what: string, names: readonly string[]): string =>
  `the ${what}${names.length > 1 ? 's' : ''} ${names.map((n) => `"${n}"`).join(', ')}`;
