import type { ModuleRecord, NodeRecord, Project } from './schema.ts';

/** Type of the nodes that use a module: this and the module's key. */
const TYPE = 'module:';

/** What a version of a module is called among the types of nodes and in a project. */
export const moduleKey = ({ id, version }: Pick<ModuleRecord, 'id' | 'version'>): string => `${id}@${version}`;

/** The type of a node that uses a module. */
export const typeOfUse = (module: Pick<ModuleRecord, 'id' | 'version'>): string => TYPE + moduleKey(module);

/** The key of the module that a node uses; undefined for other nodes. */
export const usedKey = ({ type }: Pick<NodeRecord, 'type'>): string | undefined =>
  type.startsWith(TYPE) ? type.slice(TYPE.length) : undefined;

/** The id of a node inside a use, seen from outside. */
export const pathTo = (use: string, inside: string): string => `${use}/${inside}`;

/** A path in its parts: uses from the outside in, and the node. */
export const partsOfPath = (path: string): string[] => path.split('/');

/** The module with a graph, by the graph's id. */
export const moduleWithGraph = (project: Project, graph: string): ModuleRecord | undefined =>
  project.modules.find((m) => m.graph.id === graph);
