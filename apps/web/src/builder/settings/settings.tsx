import { selectGraph, selectProject, useStore } from '../../state/store.ts';
import { NodeSettings } from './node-settings.tsx';
import { ObjectSettings } from './object-settings.tsx';
import { SectionSettings } from './section-settings.tsx';
import { ProjectSettings } from './project-settings.tsx';

/** Settings of whatever is picked. */
export function Settings() {
  const project = useStore(selectProject);
  const graph = useStore(selectGraph);
  const nodes = useStore((s) => s.ui.nodes);
  const objects = useStore((s) => s.ui.objects);
  const picked = useStore((s) => s.ui.section);
  if (!project) return null;
  const node = graph?.nodes.find((n) => n.id === nodes[0]);
  const section = graph?.sections.find((s) => s.id === picked);
  const object = project.objects.find((o) => o.id === objects[0]);
  return (
    <section aria-label="Settings" className="h-full overflow-x-hidden overflow-y-auto px-3 py-2.5">
      {nodes.length > 1 && (
        <p className="mb-2 text-soft">{nodes.length} nodes are picked; these are the settings of the first.</p>
      )}
      {objects.length > 1 && (
        <p className="mb-2 text-soft">{objects.length} objects are picked; these are the settings of the first.</p>
      )}
      {graph && node ? (
        <NodeSettings key={node.id} graph={graph} node={node} />
      ) : graph && section ? (
        <SectionSettings key={section.id} graph={graph} section={section} />
      ) : object ? (
        <ObjectSettings key={object.id} project={project} object={object} />
      ) : (
        <ProjectSettings project={project} />
      )}
    </section>
  );
}
