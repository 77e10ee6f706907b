import { useCallback, useMemo, useRef, useSyncExternalStore, type RefObject } from 'react';
import type { Object3D } from 'three';
import {
  drivenIn,
  graphAt,
  kindOf,
  objectsAt,
  pickableIds,
  reachOf,
  visibleIds,
  worldLookup,
  type Matrix,
  type ObjectRecord,
} from '@umberfish/core';
import type { DrawnPicture } from '../../engine/geometry-store.ts';
import { engine } from '../../engine/index.ts';
import { PREVIEW_KEY } from '../../engine/request.ts';
import { catalogue } from '../../state/catalogue.ts';
import { selectProject, useStore } from '../../state/store.ts';
import { boxToFrame, isMadeIn } from './box-to-frame.ts';
import { drawnItems, type DrawnItem } from './drawn-items.ts';
import type { StageThings } from './thing-at.ts';
import { useOpenedGraph, useSubjects } from './use-opened-graph.ts';
import type { View } from './view.ts';

const NO_OBJECTS: readonly ObjectRecord[] = [];

/** What stands on a stage, where, and ways to find and frame it. */
export interface Standing {
  readonly picture: DrawnPicture;
  readonly items: readonly DrawnItem[];
  /** What is no ghost. */
  readonly solid: readonly DrawnItem[];
  /** What is drawn of each item, by its id; `register` tells. */
  readonly meshes: ReadonlyMap<string, Object3D>;
  register(id: string, object: Object3D | null): void;
  /** Objects that are not hidden, at the frame of the picture. */
  readonly objects: readonly ObjectRecord[];
  readonly byId: ReadonlyMap<string, ObjectRecord>;
  readonly pickable: ReadonlySet<string>;
  matrixOf(object: string): Matrix;
  /** Everything that can be under the pointer; null before anything is drawn. */
  things(): StageThings | null;
  boxOfPicked(): ReturnType<typeof boxToFrame>;
  frame(): void;
  /** What the line below the stage tells of. */
  readonly spokenOf: DrawnItem | undefined;
}

export function useStanding(root: RefObject<HTMLDivElement | null>, view: View | null): Standing {
  const project = useStore(selectProject);
  const picture = useSyncExternalStore(engine.geometry.subscribe, engine.geometry.get);
  const picked = useStore((s) => s.ui.objects);
  const pickedSet = useMemo(() => new Set(picked), [picked]);
  const port = useStore((s) => s.ui.port);
  const graphId = useStore((s) => s.ui.graph);
  const ghost = useStore((s) => s.ui.ghost);
  const isolate = useStore((s) => s.ui.isolate);
  const animating = useStore((s) => s.ui.animating);
  const painting = useStore((s) => s.ui.painting !== null);
  const drawn = useRef(new Map<string, Object3D>());

  const items = useMemo(() => {
    const all = project ? drawnItems(project, picture, animating ? null : graphId, ghost && !animating && !painting) : [];
    if (!isolate) return all;
    const kept = all.filter(
      (i) => i.id === PREVIEW_KEY || isPicked(i, pickedSet) || (i.ref !== null && i.ref.node === port?.node),
    );
    return kept.length > 0 ? kept : all;
  }, [project, picture, graphId, ghost, animating, painting, isolate, pickedSet, port]);
  const solid = useMemo(() => items.filter((i) => !i.ghost), [items]);
  const register = useCallback(
    (id: string, o: Object3D | null) => void (o ? drawn.current.set(id, o) : drawn.current.delete(id)),
    [],
  );
  const objects = useMemo(() => {
    if (!project) return NO_OBJECTS;
    const visible = visibleIds(project.objects);
    // What is isolated stands alone: curves and crosses of others go with their meshes.
    const alone = isolate && pickedSet.size > 0;
    const handed = animating ? reachOf(catalogue(), project).objects : null;
    // Animators see of places and curves what they are given.
    // A brush is not to be stopped by what stands before the mesh.
    const isThin = (o: ObjectRecord) => ['cross', 'curve', 'joint'].includes(kindOf(o).drawn);
    const isSeen = (o: ObjectRecord) => !isThin(o) || (!painting && (!handed || handed.has(o.id)));
    return project.objects.filter((o) => visible.has(o.id) && isSeen(o) && (!alone || pickedSet.has(o.id)));
  }, [project, isolate, pickedSet, animating, painting]);
  const pickable = useMemo(() => {
    const all = pickableIds(project?.objects ?? NO_OBJECTS);
    if (!project || !animating) return all;
    const handed = reachOf(catalogue(), project).objects;
    return new Set([...all].filter((id) => handed.has(id)));
  }, [project, animating]);
  const byId = useMemo(() => (project ? objectsAt(project, picture.frame) : new Map<string, never>()), [project, picture.frame]);
  const matrixOf = useMemo(() => worldLookup(byId, 'channels', drivenIn(picture.driven)), [byId, picture]);

  const things = useCallback((): StageThings | null => {
    const canvas = root.current?.querySelector('canvas')?.getBoundingClientRect();
    return view && canvas ? { view, canvas, items, meshes: drawn.current, objects, pickable, matrixOf } : null;
  }, [root, view, items, objects, pickable, matrixOf]);

  const here = useMemo(() => {
    const graph = project && graphId !== null ? graphAt(project, graphId) : undefined;
    return new Set(graph?.nodes.map((n) => n.id));
  }, [project, graphId]);
  const boxOf = useCallback(
    (ids: readonly string[]) => boxToFrame({ items, meshes: drawn.current, objects, matrixOf }, ids, here),
    [items, objects, matrixOf, here],
  );
  const boxOfPicked = useCallback(() => boxOf(picked), [boxOf, picked]);
  // A bar at the foot of the stage covers nothing that is framed.
  const covered = useCallback(() => {
    const bar = root.current?.querySelector('[data-foot-bar]')?.getBoundingClientRect();
    const canvas = root.current?.querySelector('canvas')?.getBoundingClientRect();
    return bar && canvas && canvas.height > 0 ? (canvas.bottom - bar.top) / canvas.height : 0;
  }, [root]);
  const frame = useCallback(() => view?.frame(boxOfPicked(), covered()), [view, boxOfPicked, covered]);
  useOpenedGraph(view, (subjects) => view?.frame(boxOf(subjects), covered()));

  const subjects = useSubjects();
  const subjectSet = useMemo(() => new Set(subjects), [subjects]);
  const spokenOf =
    solid.find((i) => isPicked(i, pickedSet)) ??
    items.find((i) => i.id === PREVIEW_KEY || (i.ref !== null && i.ref.node === port?.node)) ??
    items.find((i) => isMadeIn(i, here)) ??
    solid.find((i) => isPicked(i, subjectSet)) ??
    // Of a graph that only moves what is not drawn by itself, joints say, nothing is told that belongs to another.
    (subjects.some((id) => byId.has(id)) ? undefined : solid[0]);
  return {
    picture,
    items,
    solid,
    meshes: drawn.current,
    register,
    objects,
    byId,
    pickable,
    matrixOf,
    things,
    boxOfPicked,
    frame,
    spokenOf,
  };
}

const isPicked = (i: DrawnItem, picked: ReadonlySet<string>): boolean => i.object !== null && picked.has(i.object);
