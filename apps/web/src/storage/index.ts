import { engine } from '../engine/index.ts';
import { store } from '../state/store.ts';
import { Autosave } from './autosave.ts';

/** The one autosave of the page. */
export const autosave = new Autosave(store, engine);
