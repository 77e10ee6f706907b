import { readFileSync } from 'node:fs';
import { expect, test } from 'vitest';
import { checkProject, edgesOf, pointNormals, writeProjectFile } from '@umberfish/core';
import { makeLanternQuay } from './project.ts';

const demo = makeLanternQuay();

test('the demo in the repository is the one the script makes', () => {
  const kept = readFileSync(new URL('../lantern-quay.json', import.meta.url), 'utf8');
  expect(writeProjectFile(demo.project, demo.assets) === kept).toBe(true);
});

test('nothing is wrong with it at any part of the range', () => {
  for (const frame of [1, 60, 120]) expect(checkProject({ ...demo, repairs: [] }, frame)).toEqual([]);
});

test('its meshes are sound: no edge of more than two faces, every point faces somewhere', () => {
  for (const [id, mesh] of demo.assets) {
    const { cornerEdges, count } = edgesOf(mesh.topology);
    const uses = new Int32Array(count);
    for (const e of cornerEdges) uses[e]++;
    expect(Math.max(...uses), id).toBeLessThanOrEqual(2);
    const n = pointNormals(mesh);
    for (let i = 0; i < n.length; i += 3)
      expect(Math.hypot(n[i], n[i + 1], n[i + 2]), `${id} ${i / 3}`).toBeGreaterThan(0.9);
  }
});
