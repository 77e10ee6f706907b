import { readFileSync } from 'node:fs';
import validator from 'gltf-validator';
import { AnimationMixer, Vector3, type Object3D, type SkinnedMesh } from 'three';
import { GLTFLoader, type GLTF } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { expect, test } from 'vitest';
import {
  addGraph,
  addMeshObjects,
  CATALOGUE,
  channelsFor,
  drivingNodes,
  Evaluator,
  makeObject,
  makeProject,
  packWeights,
  readProjectFile,
  setInput,
  SHOWN_PORT,
  skinGraph,
  skinLinear,
  skinPose,
  tracksFor,
  withChannels,
  type ChainValue,
  type GeometryValue,
  type ObjectRecord,
  type Project,
} from '@umberfish/core';
import { bakeObjects } from './bake-objects.ts';
import { importMeshes } from '@umberfish/formats';

const { project: demo, assets } = readProjectFile(
  readFileSync(new URL('../../../demo/lantern-quay.json', import.meta.url), 'utf8'),
);
// A stretched leg is sheared by the bend of what hangs on it, which the format has no place for: it is told, and left out here.
const project = ['hw-left-leg', 'hw-right-leg'].reduce((p, leg) => setInput('heron-wades', leg, 'stretch', 0)(p), demo);
const evaluator = new Evaluator(CATALOGUE);
for (const [id, mesh] of assets) evaluator.setAsset(id, mesh);
const FRAMES = Array.from({ length: 25 }, (_, i) => 1 + i * 5);

async function written(): Promise<Uint8Array> {
  for await (const made of bakeObjects({
    project,
    evaluator,
    frames: FRAMES,
    objects: ['heron'],
    format: 'glb',
    stem: 'heron',
    keepGoing: true,
    checkpoint: () => {},
  }))
    if (made.kind === 'file') return made.content as Uint8Array;
  throw new Error('Nothing was written.');
}
const file = await written();

const load = (bytes: Uint8Array): Promise<GLTF> =>
  new Promise((resolve, reject) => new GLTFLoader().parse(bytes.slice().buffer, '', resolve, reject));

/** Where the points of a skinned mesh are, by its own reader: the first vertex of each point. */
function placesOf(scene: Object3D, count: number): Float32Array {
  const out = new Float32Array(count * 3);
  scene.updateMatrixWorld(true);
  scene.traverse((o) => {
    const skinned = o as SkinnedMesh;
    if (!skinned.isSkinnedMesh) return;
    skinned.skeleton.update();
    const { position, _point: point } = skinned.geometry.attributes;
    const at = new Vector3();
    for (let v = 0; v < position.count; v++) {
      at.fromBufferAttribute(position, v);
      skinned.applyBoneTransform(v, at);
      at.applyMatrix4(skinned.matrixWorld);
      out.set([at.x, at.y, at.z], (point ? point.getX(v) : v) * 3);
    }
  });
  return out;
}

/** Ours at a frame: the bound mesh by linear skin. */
function ours(
  p: Project,
  on: Evaluator,
  frame: number,
  mesh: { node: string; port: string },
  chain: { node: string; port: string },
): Float32Array {
  const drivers = drivingNodes(CATALOGUE, p).map((node) => ({ node, port: SHOWN_PORT }));
  const { value } = on.evaluate({ project: p, frame, wanted: [mesh, chain, ...drivers] });
  const bound = (value(mesh) as GeometryValue).mesh;
  const joints = (value(chain) as ChainValue).chain;
  return skinLinear(
    new Float32Array(bound.positions.length),
    bound.positions,
    packWeights(bound, joints),
    skinPose(joints).matrices,
  );
}
const apart = (a: Float32Array, b: Float32Array) => a.reduce((most, v, i) => Math.max(most, Math.abs(v - b[i])), 0);
const SIZE = 2.5;

test('the heron as GLB: no error or warning, and an independent reader skins it as we do, at every frame', async () => {
  const report = await validator.validateBytes(file);
  expect(report.issues.messages.filter((m: { severity: number }) => m.severity < 2)).toEqual([]);
  const gltf = await load(file);
  const mixer = new AnimationMixer(gltf.scene);
  mixer.clipAction(gltf.animations[0]).play();
  for (const [i, frame] of FRAMES.entries()) {
    mixer.setTime(Math.min((i * 5) / project.frameRate, gltf.animations[0].duration - 1e-7));
    const expected = ours(project, evaluator, frame, { node: 'skin-bind', port: 'mesh' }, { node: 'skin-posed', port: 'chain' });
    expect(apart(placesOf(gltf.scene, expected.length / 3), expected), `frame ${frame}`).toBeLessThan(1e-5 * SIZE);
  }
});

test('read again it has its joints, rests, weights and motion, and skins as the independent reader does', async () => {
  const read = await importMeshes([{ name: 'heron.glb', bytes: file }]);
  expect(read.objects.filter((o) => o.kind === 'joint').length).toBe(33);
  const skinned = read.objects.findIndex((o) => o.chain !== undefined);
  let p: Project = { ...makeProject('again', 'Again'), frameRate: project.frameRate };
  const records: ObjectRecord[] = [];
  read.objects.forEach((o, i) => {
    const type = o.kind ?? (o.mesh === null ? 'group' : 'mesh');
    const parent = o.parent === null ? null : records[o.parent].id;
    const plain = makeObject(
      `o${i}`,
      o.name,
      type,
      (type === 'mesh' ? { mesh: 'heron', parent } : { parent }) as object,
    ) as ObjectRecord;
    const placed = withChannels(plain, channelsFor(plain, o.matrix).values);
    const still = { ...placed, rest: o.rest ? withChannels(plain, channelsFor(plain, o.rest).values).channels : placed.channels };
    const frames = o.motion?.seconds.map((s) => 1 + s * project.frameRate) ?? [];
    records.push(o.motion ? { ...still, animated: tracksFor(still, frames, o.motion.matrices, 'straight').animated } : still);
  });
  p = addMeshObjects([{ id: 'heron', name: 'Heron', points: 0, faces: 0, origin: '' }], records)(p);
  const graph = skinGraph(records[skinned], records[read.objects[skinned].chain as number]);
  p = addGraph(graph)(p);
  const again = new Evaluator(CATALOGUE);
  again.setAsset('heron', read.meshes[read.objects[skinned].mesh as number].mesh);
  const gltf = await load(file);
  const mixer = new AnimationMixer(gltf.scene);
  mixer.clipAction(gltf.animations[0]).play();
  const [mesh, chain] = [graph.nodes[0].id, graph.nodes[1].id];
  for (const i of [0, 3, 11, 19]) {
    mixer.setTime((i * 5) / project.frameRate);
    const mine = ours(p, again, FRAMES[i], { node: mesh, port: 'mesh' }, { node: chain, port: 'chain' });
    expect(apart(placesOf(gltf.scene, mine.length / 3), mine), `frame ${FRAMES[i]}`).toBeLessThan(1e-5 * SIZE);
  }
});
