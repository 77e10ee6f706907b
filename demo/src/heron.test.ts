import { expect, test } from 'vitest';
import {
  CATALOGUE,
  drivingNodes,
  Evaluator,
  indexOf,
  rayHit,
  SHOWN_PORT,
  problemWords,
  weightName,
  worldLookup,
  objectsAt,
  transformMesh,
  type GeometryValue,
} from '@umberfish/core';
import { makeLanternQuay } from './project.ts';

const { project, assets } = makeLanternQuay();
const evaluator = new Evaluator(CATALOGUE);
for (const [id, mesh] of assets) evaluator.setAsset(id, mesh);
const MINE = ['heron-wades', 'heron-skin-graph', 'boatman-takes', 'cable-reaches'];

function at(frame: number) {
  const drivers = drivingNodes(CATALOGUE, project).map((node) => ({ node, port: SHOWN_PORT }));
  const wanted = [
    { node: 'skin-show', port: SHOWN_PORT },
    { node: 'skin-bind', port: 'mesh' },
    { node: 'cable-show', port: SHOWN_PORT },
    ...['left', 'right'].flatMap((s) => ['before', 'after', 'touching'].map((port) => ({ node: `hw-${s}-down`, port }))),
    { node: 'hw-left-leg', port: 'residual' },
    { node: 'hw-right-leg', port: 'residual' },
    ...drivers,
  ];
  const evaluation = evaluator.evaluate({ project, frame, wanted });
  const nodes = new Set(project.graphs.filter((g) => MINE.includes(g.id)).flatMap((g) => g.nodes.map((n) => n.id)));
  const words = [...evaluation.reports].flatMap(([id, r]) =>
    nodes.has(id) ? r.problems.map((p) => `${id}: ${problemWords(p)}`) : [],
  );
  const world = worldLookup(objectsAt(project, frame), 'channels', evaluation.driven);
  return { evaluation, words, world };
}

test('the heron wades: no point of its feet is more than a millimetre in the shingle, at any frame', { timeout: 240_000 }, () => {
  const shingle = project.objects.find((o) => o.id === 'shingle');
  const source = assets.get((shingle as { mesh: string }).mesh);
  let deepest = -Infinity;
  let steps = 0;
  const said = new Set<string>();
  for (let frame = 1; frame <= 120; frame++) {
    const { evaluation, words, world } = at(frame);
    words.forEach((w) => said.add(w));
    const skin = (evaluation.value({ node: 'skin-show', port: SHOWN_PORT }) as GeometryValue).mesh;
    const ground = transformMesh(source as GeometryValue['mesh'], world('shingle'), (n) => new Float32Array(n));
    const index = indexOf(ground, 'faces');
    const feet = ['foot', 'heel', 'ball', 'toe'].flatMap((n) => ['Left', 'Right'].map((s) => weightName(`${s} ${n}`)));
    const weights = skin.attributes.filter((a) => feet.includes(a.name)).map((a) => a.data);
    expect(weights.length).toBeGreaterThan(5);
    for (let p = 0; p < skin.topology.pointCount; p++) {
      if (!(weights.reduce((s, w) => s + w[p], 0) > 0.5)) continue;
      const [x, y, z] = skin.positions.subarray(p * 3, p * 3 + 3);
      if (rayHit(index, x, y + 1, z, 0, -1, 0) < 0) continue;
      deepest = Math.max(deepest, 1 - index.rayDistance);
    }
    for (const s of ['left', 'right'])
      if ((evaluation.value({ node: `hw-${s}-down`, port: 'touching' }) as { data: Int32Array }).data.some((t) => t)) steps++;
  }
  expect([...said]).toEqual([]);
  expect(deepest).toBeLessThan(0.001);
  expect(steps).toBeGreaterThan(60);
});
