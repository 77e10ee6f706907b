import { CATALOGUE, catalogueOf, type Catalogue } from '@umberfish/core';
import { store } from './store.ts';

/** The types of nodes that the open project is read with: ours, and its modules. */
export function catalogue(): Catalogue {
  const { project } = store.getState().project;
  return project ? catalogueOf(CATALOGUE, project) : CATALOGUE;
}
