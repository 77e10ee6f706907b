import type { NodeDefinition } from './definition.ts';

/** The types of nodes that a document is read with, by id; whoever resolves a graph is handed one. Immutable. */
export type Catalogue = ReadonlyMap<string, NodeDefinition>;

/** The catalogue of some types. */
export const makeCatalogue = (definitions: readonly NodeDefinition[]): Catalogue => new Map(definitions.map((d) => [d.id, d]));
