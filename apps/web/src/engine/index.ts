import { store } from '../state/store.ts';
import { Engine } from './engine.ts';

/** The one engine of the page. */
export const engine = new Engine(store);
