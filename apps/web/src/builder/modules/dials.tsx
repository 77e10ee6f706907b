import {
  CATALOGUE,
  typedInput,
  wallsOf,
  type GraphRecord,
  type ModuleRecord,
  type ResolvedNode,
  type Way,
} from '@umberfish/core';
import { InputField } from '../settings/input-field.tsx';
import { SettingField } from '../settings/setting-field.tsx';

/** Whether a dial is shown: another may have to be at a value. */
function isShown({ shown }: Way, node: ResolvedNode): boolean {
  if (!shown) return true;
  const port = node.inputs.find((p) => p.id === shown.way);
  return (port ? typedInput(port, node.record) : node.settings[shown.way]) === shown.is;
}

/** The dials of a use in the order, the groups and under the names that its module laid out. */
export function Dials({ graph, node, module }: { graph: GraphRecord; node: ResolvedNode; module: ModuleRecord }) {
  const { ins } = wallsOf(CATALOGUE, module.graph);
  const shown = ins.filter((w) => isShown(w, node));
  // Dials of one group stand together, where the first of them is.
  const groups = [...new Set(shown.map((w) => w.group))];
  return (
    <section aria-label="Dials" data-dials={shown.length} className="flex flex-col gap-1.5">
      {groups.map((group) => (
        <div key={group} className="flex flex-col gap-1.5" data-dial-group={group}>
          {group !== '' && <h4 className="mt-1 border-b border-line pb-0.5 font-serif font-semibold">{group}</h4>}
          {shown
            .filter((w) => w.group === group)
            .map((way) => {
              const port = node.inputs.find((p) => p.id === way.id);
              if (port) return <InputField key={way.id} graph={graph} node={node.record} port={port} control={way.control} />;
              const setting = node.definition?.settings.find((s) => s.id === way.id);
              if (!setting) return null;
              const alone = setting.type === 'response' || setting.type === 'gradient';
              return (
                <div key={way.id}>
                  {alone && (
                    <p className="text-soft" title={way.help}>
                      {way.name}
                    </p>
                  )}
                  <SettingField graph={graph} node={node.record} setting={setting} value={node.settings[way.id]} />
                </div>
              );
            })}
        </div>
      ))}
    </section>
  );
}
