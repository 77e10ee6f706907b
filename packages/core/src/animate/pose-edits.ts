import { newId, type Edit } from '../edits/document.ts';
import type { PoseRecord, PoseValues, Sides } from '../project/animation.ts';

/** Keeps a pose, under a name with the next number where none is given. */
export const keepPose =
  (values: PoseValues, picture: string | null, name?: string): Edit =>
  (p) => {
    const taken = new Set(p.poses.map((pose) => pose.name));
    let n = 1;
    while (taken.has(`Pose ${n}`)) n++;
    return { ...p, poses: [...p.poses, { id: newId('pose'), name: name ?? `Pose ${n}`, picture, values }] };
  };

export const changePose =
  (id: string, change: Partial<Omit<PoseRecord, 'id'>>): Edit =>
  (p) => ({ ...p, poses: p.poses.map((pose) => (pose.id === id ? { ...pose, ...change } : pose)) });

export const forgetPose =
  (id: string): Edit =>
  (p) => ({ ...p, poses: p.poses.filter((pose) => pose.id !== id) });

/** Other words for the two sides of a rig; pairs of which a word is missing or that say twice the same are left out. */
export const setSides =
  (sides: Sides): Edit =>
  (p) => ({ ...p, sides: sides.filter((s) => s.left !== '' && s.right !== '' && s.left !== s.right) });
