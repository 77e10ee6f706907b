import { changeModule, counted, moduleKey, usesOf, versionWords, type ModuleRecord } from '@umberfish/core';
import { applyEdit, selectProject, useStore } from '../../state/store.ts';
import { Button } from '../../ui/button.tsx';
import { TextField } from '../../ui/text-field.tsx';
import { lookInside, partUse, unpackPicked } from './commands.ts';

/** Of a use: what its module is, and what can be done with it. */
export function ModuleSection({ path, module }: { path: string; module: ModuleRecord }) {
  const project = useStore(selectProject);
  if (!project) return null;
  const key = moduleKey(module);
  const uses = usesOf(project, key).length;
  const small = '!h-6 !px-2 text-xs';
  return (
    <section aria-label="Module" data-module={key} className="mt-2 flex flex-col gap-1.5 border-t border-line pt-2">
      <h3 className="text-soft">
        Module <strong className="font-serif font-semibold text-ink">{module.name}</strong>
      </h3>
      <p className="text-xs leading-snug text-soft">
        {module.version > 0 ? `Version ${versionWords(module.version)}${module.edited ? ', changed since' : ''}` : 'Not published'}.{' '}
        {uses === 1 ? 'Used here only.' : `${counted(uses, 'use')} in this project: a change inside shows in all.`}
      </p>
      <TextField
        label="What the module does"
        value={module.summary}
        placeholder="What it does, in a line"
        onChange={(summary) => applyEdit('Describe module', changeModule(key, { summary }))}
      />
      <div className="flex flex-wrap gap-1">
        <Button
          look="framed"
          className={small}
          onClick={() => lookInside(path)}
          hint="Its cards, with the numbers of this use (Enter)"
        >
          Look inside
        </Button>
        {uses > 1 && (
          <Button look="framed" className={small} onClick={partUse} hint="Parts this use from the others">
            Own copy
          </Button>
        )}
        <Button look="framed" className={small} onClick={unpackPicked} hint="Turns it back into cards; nothing changes">
          Unpack
        </Button>
      </div>
    </section>
  );
}
