import { CONSTRAINT_RULES, type ConstraintKind, makeConstraint, wrongPick, type Snapshot, setSetting } from '@umberfish/core';
import { engine } from '../../engine/index.ts';
import { poseNow } from '../../engine/pose.ts';
import { applyEdit, store } from '../../state/store.ts';
import { remarked, uiSet } from '../../state/ui-slice.ts';
import { catalogue } from '../../state/catalogue.ts';

const wrong = (text: string) => void store.dispatch(remarked({ text, kind: 'wrong' }));

/**
 * Builds the graph of a constraint for the picked objects: the first is the child, the others drive it. The object does
 * not move. An object that is carried already gets one more link in its chain.
 */
export async function constrain(kind: ConstraintKind): Promise<void> {
  const pose = poseNow();
  const { objects } = store.getState().ui;
  const rule = CONSTRAINT_RULES[kind];
  if (!pose) return;
  const picked = objects.map((id) => pose.objects.get(id)).filter((o) => o !== undefined);
  const [child, ...drivers] = picked;
  const no = wrongPick(kind, child, drivers);
  if (no !== undefined) return wrong(no);
  const made = await makeConstraint(catalogue(), pose, kind, child, drivers, engine).catch(
    (error: unknown) => (error as Error).message,
  );
  // What was edited meanwhile is not put back.
  if (store.getState().project.project !== pose.project) return constrain(kind);
  if (typeof made === 'string') return wrong(made);
  applyEdit(`${rule.title} for ${child.name}`, () => made.project);
  store.dispatch(uiSet({ graph: made.graph, nodes: [made.node], objects: [], port: null }));
  store.dispatch(remarked({ text: `${rule.title} made: "${child.name}" stays where it is.`, kind: 'done' }));
}

/** Takes the snapshot of a constraint anew: from now on, nothing moves while everything stands as it does. */
export async function takeSnapshotNow(graph: string, node: string): Promise<void> {
  const { project, ui } = { project: store.getState().project.project, ui: store.getState().ui };
  if (!project) return;
  let snapshot: Snapshot | undefined;
  try {
    snapshot = await engine.snapshot(project, ui.frame, node);
  } catch (error) {
    return wrong((error as Error).message);
  }
  if (!snapshot) return wrong('There is nothing to take: choose the object, and connect every driver.');
  applyEdit('Take snapshot now', setSetting(catalogue(), graph, node, 'snapshot', snapshot));
}
