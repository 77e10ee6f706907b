import { chain } from './chain.ts';
import { curve } from './curve.ts';
import { group } from './group.ts';
import { joint } from './joint.ts';
import { locator } from './locator.ts';
import { mesh } from './mesh.ts';
import { prop } from './prop.ts';

/** Every kind of object; a new one is a file, and its name here. */
export const ALL = [group, mesh, locator, curve, prop, chain, joint] as const;
