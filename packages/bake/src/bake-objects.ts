import { skinsOf, writtenSkins } from './skins.ts';
import {
  channelsOver,
  drivingNodes,
  jointsOf,
  sampleObjects,
  SHOWN_PORT,
  withParents,
  type Mesh,
  assetIdOf,
} from '@umberfish/core';
import { writeChannelsCsv, writeObjectsGlb } from '@umberfish/formats';
import type { Bake, Baked } from './bake.ts';
import { behind, channelErrors, nodeErrors } from './problems.ts';

/** Whose motion is baked, and as what. */
export interface ObjectsBake extends Bake {
  readonly objects: readonly string[];
  readonly format: 'glb' | 'csv';
}

/** Bakes the motion of objects over frames to one file: a GLB with what they hang under and their meshes, or channels as CSV. */
export async function* bakeObjects(bake: ObjectsBake): AsyncGenerator<Baked, void> {
  const { project, evaluator, frames, format, checkpoint } = bake;
  const chains = new Set(project.objects.filter((o) => o.type === 'chain' && bake.objects.includes(o.id)).map((o) => o.id));
  // With a chain go all of its joints.
  const objects = [...new Set([...bake.objects, ...[...chains].flatMap((c) => jointsOf(project.objects, c).map((j) => j.id))])];
  const { catalogue } = evaluator;
  const wanted = drivingNodes(catalogue, project).map((node) => ({ node, port: SHOWN_PORT }));
  const hung = withParents(project, objects).map((o) => o.id);
  const concerned = behind(
    catalogue,
    project,
    wanted.map((w) => w.node),
    hung,
  );
  for (const [i, frame] of frames.entries()) {
    const evaluation = evaluator.evaluate({ project, frame, wanted, purpose: 'bake', checkpoint });
    const errors = [...channelErrors(concerned, frame), ...nodeErrors(catalogue, project, evaluation)];
    for (const message of errors) yield { kind: 'problem', frame, message };
    if (errors.length > 0 && !bake.keepGoing) return;
    yield { kind: 'progress', done: i + 1, all: frames.length };
  }
  const samples = sampleObjects(evaluator, project, objects, frames, checkpoint);
  const name = `${bake.stem}.${format}`;
  if (format === 'csv') {
    const channels = samples.filter((s) => objects.includes(s.object.id)).map(channelsOver);
    for (const { object, residual } of channels) {
      const share = `${(residual * 100).toPrecision(2)} %`;
      if (residual > 1e-6)
        yield { kind: 'note', message: `"${object.name}" is sheared; its channels leave out ${share} of that.` };
    }
    yield { kind: 'file', name, content: writeChannelsCsv(channels, frames) };
    return;
  }
  const meshes = new Map<string, Mesh>();
  for (const o of project.objects) {
    const asset = assetIdOf(o);
    const found = asset !== null && objects.includes(o.id) ? evaluator.getAsset(asset) : undefined;
    if (found) meshes.set(o.id, found);
  }
  const skins = writtenSkins(evaluator, project, skinsOf(evaluator, project, chains), frames[0]);
  const { bytes, notes } = await writeObjectsGlb(samples, frames, project.frameRate, meshes, skins);
  for (const message of notes) yield { kind: 'note', message };
  yield { kind: 'file', name, content: bytes };
}
