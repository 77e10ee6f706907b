import type { Vec3 } from '../maths/vector.ts';
import { newId, type Edit } from './document.ts';

/** Keeps a place from which the stage is looked at (metres, in the world), under a name with the next number. */
export const keepView =
  (eye: Vec3, target: Vec3): Edit =>
  (p) => {
    const taken = new Set(p.views.map((v) => v.name));
    let n = 1;
    while (taken.has(`View ${n}`)) n++;
    return { ...p, views: [...p.views, { id: newId('view'), name: `View ${n}`, eye, target }] };
  };

export const renameView =
  (id: string, name: string): Edit =>
  (p) => ({ ...p, views: p.views.map((v) => (v.id === id ? { ...v, name } : v)) });

export const forgetView =
  (id: string): Edit =>
  (p) => ({ ...p, views: p.views.filter((v) => v.id !== id) });
