import { weightName } from '../chains/skin-weights.ts';
import type { Catalogue } from '../graph/node/catalogue.ts';
import type { Setting } from '../graph/node/definition.ts';
import type { SettingValue } from '../project/fields.ts';
import type { ObjectRecord } from '../project/kinds/index.ts';
import type { NodeRecord } from '../project/schema.ts';
import { chainOf } from '../scene/joints.ts';
import { objectsById } from '../scene/objects.ts';
import type { Edit } from './document.ts';

/**
 * Another name for an object. Nodes find joints by their names: those of the graphs that read or drive the joint's chain are
 * told the new one, where they name the old one by itself or in a list; patterns with * stay. Weights that a mesh came with
 * go on under the old name: the joint takes those too.
 */
export const renameObject =
  (catalogue: Catalogue, id: string, name: string): Edit =>
  (project) => {
    const byId = objectsById(project.objects);
    const object = byId.get(id);
    if (!object || object.name === name) return project;
    const objects = project.objects.map((o) => (o.id === id ? renamed(o, name) : o));
    const chain = object.type === 'joint' ? chainOf(byId, object) : undefined;
    if (!chain) return { ...project, objects };
    const told = (node: NodeRecord): NodeRecord => {
      const settings = catalogue.get(node.type)?.settings ?? [];
      const changes = settings.flatMap((s) => {
        const setting = s.id;
        const before = node.settings[setting];
        const after = settingRenamed(s, before, object.name, name);
        return after === before || after === undefined ? [] : [[setting, after] as const];
      });
      return changes.length === 0 ? node : { ...node, settings: { ...node.settings, ...Object.fromEntries(changes) } };
    };
    const graphs = project.graphs.map((graph) => {
      const concerns = graph.nodes.some((n) => Object.values(n.settings).includes(chain.id));
      const nodes = concerns ? graph.nodes.map(told) : graph.nodes;
      return nodes.every((n, i) => n === graph.nodes[i]) ? graph : { ...graph, nodes };
    });
    return { ...project, objects, graphs };
  };

/** A joint under another name; it keeps the weights it had. */
function renamed(object: ObjectRecord, name: string): ObjectRecord {
  if (object.type !== 'joint') return { ...object, name };
  return { ...object, name, also: [...new Set([...object.also.filter((a) => a !== name), object.name])] };
}

/** A setting that names a joint, or its weights, with the new name. */
function settingRenamed(setting: Setting, value: SettingValue | undefined, from: string, to: string): SettingValue | undefined {
  const [was, is] = [weightName(from), weightName(to)];
  if (typeof value === 'string') {
    if (setting.type !== 'text') return value;
    if (setting.attributeOf !== undefined && value === was) return is;
    return setting.jointOf === undefined ? value : inList(value, from, to);
  }
  if (setting.type !== 'painted' || !value || typeof value !== 'object' || !('columns' in value)) return value;
  if (was === is || !Object.hasOwn(value.columns, was) || Object.hasOwn(value.columns, is)) return value;
  return { ...value, columns: Object.fromEntries(Object.entries(value.columns).map(([n, b]) => [n === was ? is : n, b])) };
}

/** A list of names with one of them replaced; the same text where it is not among them. */
function inList(text: string, from: string, to: string): string {
  const parts = text.split(',');
  if (!parts.some((p) => p.trim() === from)) return text;
  return parts.map((p) => (p.trim() === from ? p.replace(from, () => to) : p)).join(',');
}
