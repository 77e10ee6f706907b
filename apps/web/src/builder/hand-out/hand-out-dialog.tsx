import {
  addPage,
  changePage,
  dropHandOut,
  isDialPort,
  movePartOnPage,
  nodeTitle,
  putPart,
  removePage,
  removePart,
  usesIn,
  channelsOf,
  drivenChannels,
  type HandOutPage,
  type HandOutPart,
  type Project,
} from '@umberfish/core';
import { Plus, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { catalogue } from '../../state/catalogue.ts';
import { applyEdit, selectProject, useStore } from '../../state/store.ts';
import { Button } from '../../ui/button.tsx';
import { LongChoice } from '../../ui/long-choice.tsx';
import { Modal } from '../../ui/modal.tsx';
import { TextField } from '../../ui/text-field.tsx';
import { Findings } from './findings.tsx';
import { useHandOutCheck } from './use-hand-out-check.ts';
import { PartRow } from './part-row.tsx';

/** What animators get: pages, in order, with the objects and dials on each, under the names they see. */
export function HandOutDialog({ onClose }: { onClose(): void }) {
  const project = useStore(selectProject);
  const picked = useStore((s) => s.ui.objects);
  const [chosen, setChosen] = useState<string | null>(null);
  const found = useHandOutCheck(project);
  if (!project) return null;
  const pages = project.handOut?.pages ?? [];
  const page = pages.find((p) => p.id === chosen) ?? pages[0];
  const add = (name: string, parts: readonly HandOutPart[]) => applyEdit('Add a page', addPage(name, parts));
  const partsOfPicked = picked.map((id) => objectPart(project, id)).filter((p) => p !== undefined);
  return (
    <Modal
      open
      wide
      title="Hand out"
      about="What animators get on Animate. Everything else is not there to be touched; without pages they get everything."
      onClose={onClose}
    >
      <div className="grid h-[min(440px,60vh)] grid-cols-[168px_1fr] gap-4" data-hand-out={pages.length}>
        <div className="flex min-h-0 flex-col gap-1 border-r border-line pr-3">
          <ul className="min-h-0 flex-1 overflow-auto">
            {pages.map((p) => (
              <li key={p.id}>
                <button
                  type="button"
                  aria-current={p === page}
                  onClick={() => setChosen(p.id)}
                  className={`flex h-7 w-full items-center justify-between gap-2 rounded px-2 text-left ${p === page ? 'bg-sunk font-semibold' : 'hover:bg-sunk'}`}
                >
                  <span className="truncate">{p.name}</span>
                  <span className="number text-xs text-faint">{p.parts.length}</span>
                </button>
              </li>
            ))}
          </ul>
          <Button onClick={() => add(`Page ${pages.length + 1}`, [])}>
            <Plus size={14} /> Add a page
          </Button>
          {pages.length > 0 && (
            <Button hint="Animators get everything again" onClick={() => applyEdit('Hand out everything', dropHandOut)}>
              Hand out everything
            </Button>
          )}
        </div>
        <div className="flex min-h-0 flex-col gap-2">
          {page ? (
            <Page key={page.id} project={project} page={page} partsOfPicked={partsOfPicked} />
          ) : (
            <div className="grid flex-1 place-content-center gap-3 text-center">
              <p className="max-w-64 text-soft">Animators get everything now. Make a page to choose what they get.</p>
              <Button look="strong" className="justify-self-center" onClick={() => add('Body', partsOfPicked)}>
                {partsOfPicked.length > 0 ? 'A page with what is picked' : 'A first page'}
              </Button>
            </div>
          )}
          {pages.length > 0 && <Findings found={found} />}
        </div>
      </div>
    </Modal>
  );
}

function Page({ project, page, partsOfPicked }: { project: Project; page: HandOutPage; partsOfPicked: readonly HandOutPart[] }) {
  const uses = usesIn(catalogue(), project);
  const options = [
    ...project.objects.map((o) => ({ value: `object ${o.id}`, label: o.name })),
    ...uses.map((n) => ({ value: `dials ${n.record.id}`, label: `${nodeTitle(n)} (dials)` })),
  ];
  const put = (parts: readonly HandOutPart[]) =>
    applyEdit('Hand out', (p) => parts.reduce((q, part) => putPart(page.id, part)(q), p));
  const choose = (value: string) => {
    const [kind, id] = [value.slice(0, value.indexOf(' ')), value.slice(value.indexOf(' ') + 1)];
    const part = kind === 'object' ? objectPart(project, id) : dialsPart(id);
    if (part) put([part]);
  };
  const dialsPart = (id: string): HandOutPart | undefined => {
    const node = uses.find((n) => n.record.id === id);
    if (!node) return undefined;
    const dials = [...node.inputs.filter(isDialPort).map((p) => p.id), ...(node.definition?.settings.map((s) => s.id) ?? [])];
    return { kind: 'dials', node: id, dials, name: '' };
  };
  return (
    <>
      <div className="flex items-center gap-2">
        <TextField
          label="Name of the page"
          value={page.name}
          onChange={(name) => name.trim() && applyEdit('Rename a page', changePage(page.id, { name: name.trim() }))}
        />
        <Button
          hint={`Remove ${page.name}`}
          aria-label={`Remove ${page.name}`}
          onClick={() => applyEdit('Remove a page', removePage(page.id))}
        >
          <Trash2 size={14} />
        </Button>
      </div>
      <ul className="min-h-0 flex-1 overflow-auto border-y border-line">
        {page.parts.length === 0 && <li className="py-3 text-soft">Nothing on it yet.</li>}
        {page.parts.map((part, i) => (
          <PartRow
            key={part.kind === 'object' ? `object ${part.object}` : `dials ${part.node}`}
            project={project}
            part={part}
            onChange={(to) => put([to])}
            onMove={(by) => applyEdit('Order a page', movePartOnPage(page.id, i, i + by))}
            onRemove={() => applyEdit('Take off a page', removePart(page.id, part))}
          />
        ))}
      </ul>
      <div className="flex items-center gap-2">
        <LongChoice label="Add to the page" value="" options={options} empty="Add an object or dials…" onChange={choose} />
        <Button
          look="framed"
          disabled={partsOfPicked.length === 0}
          hint="Puts what is picked in the scene on this page"
          onClick={() => put(partsOfPicked)}
        >
          Add what is picked
        </Button>
      </div>
    </>
  );
}

/** An object with all that can be turned: what is locked, or driven by a graph, is not. */
function objectPart(project: Project, id: string): HandOutPart | undefined {
  const object = project.objects.find((o) => o.id === id);
  if (!object) return undefined;
  const stays = new Set([...object.locked, ...drivenChannels(catalogue(), project, id)]);
  return { kind: 'object', object: id, channels: channelsOf(object).filter((c) => !stays.has(c)), name: '' };
}
