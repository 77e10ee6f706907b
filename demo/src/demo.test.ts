import { readFileSync } from 'node:fs';
import { expect, test } from 'vitest';
import {
  CATALOGUE,
  catalogueOf,
  checkProject,
  edgesOf,
  Evaluator,
  pointNormals,
  readProjectFile,
  resolveGraph,
  resolveProject,
  sentenceContext,
  writeProjectFile,
} from '@umberfish/core';
import { readability } from '@umberfish/bench-layout';
import { makeStarters } from './starters.ts';
import { makeLanternQuay } from './project.ts';

const demo = makeLanternQuay();

test('the demo in the repository is the one the script makes', () => {
  const kept = readFileSync(new URL('../lantern-quay.json', import.meta.url), 'utf8');
  expect(writeProjectFile(demo.project, demo.assets) === kept).toBe(true);
});

test('nothing is wrong with it at any part of the range', () => {
  expect(readProjectFile(writeProjectFile(demo.project, demo.assets)).repairs).toEqual([]);
  for (const frame of [1, 60, 120]) expect(checkProject(CATALOGUE, { ...demo, repairs: [] }, frame)).toEqual([]);
});

test('every input and setting it gives is one that its node has', () => {
  for (const node of resolveProject(CATALOGUE, demo.project).values()) {
    const known = [...node.inputs.map((i) => i.id), ...(node.definition?.settings.map((s) => s.id) ?? [])];
    for (const given of [...Object.keys(node.record.inputs), ...Object.keys(node.record.settings)])
      expect(known, `${node.record.id}: ${given}`).toContain(given);
  }
});

test('every wire leads from an output that is there to an input that is there', () => {
  const types = catalogueOf(CATALOGUE, demo.project);
  for (const graph of demo.project.graphs) {
    const nodes = resolveGraph(types, graph);
    for (const { from, to } of graph.wires) {
      expect(
        nodes.get(from.node)?.outputs.map((o) => o.id),
        `${graph.name}: ${from.node}`,
      ).toContain(from.port);
      expect(
        nodes.get(to.node)?.inputs.map((i) => i.id),
        `${graph.name}: ${to.node}`,
      ).toContain(to.port);
    }
  }
});

test('every card says in words what its node does', () => {
  const nodes = resolveProject(CATALOGUE, demo.project);
  for (const node of nodes.values()) {
    const words = node.definition?.sentence(node.settings, sentenceContext(demo.project, node, nodes));
    expect(words, node.record.id).toMatch(/^(?!.*(object Object|undefined|NaN)).+$/);
  }
});

test('its meshes are sound: no edge of more than two faces, every point faces somewhere', () => {
  for (const [id, mesh] of demo.assets) {
    const { cornerEdges, count } = edgesOf(mesh.topology);
    const uses = new Int32Array(count);
    for (const e of cornerEdges) uses[e]++;
    expect(Math.max(...uses), id).toBeLessThanOrEqual(2);
    const n = pointNormals(mesh);
    for (let i = 0; i < n.length; i += 3) expect(Math.hypot(n[i], n[i + 1], n[i + 2]), `${id} ${i / 3}`).toBeGreaterThan(0.9);
  }
});

test('barnacles at the rest stay where they are on the twisting hull; at the positions they swim', () => {
  const evaluator = new Evaluator(CATALOGUE);
  for (const [id, mesh] of demo.assets) evaluator.setAsset(id, mesh);
  const heights = (side: string, frame: number) => {
    const ref = { node: `only-high-${side}`, port: 'result' };
    const value = evaluator.evaluate({ project: demo.project, frame, wanted: [ref] }).value(ref);
    return value?.form === 'column' ? Array.from(value.data) : [];
  };
  expect(heights('stuck', 1).length).toBeGreaterThan(5000);
  expect(heights('stuck', 1).some((h) => h > 0.5)).toBe(true);
  expect(heights('stuck', 24)).toEqual(heights('stuck', 1));
  const before = heights('swimming', 1);
  const changed = heights('swimming', 24).filter((h, i) => Math.abs(h - before[i]) > 0.05);
  expect(changed.length).toBeGreaterThan(300);
});

test('the wires of every graph can be followed: none behind a card, none backwards, few crossings', () => {
  const types = catalogueOf(CATALOGUE, demo.project);
  const all = [...demo.project.graphs, ...makeStarters().map((s) => s.module.graph)].map((g) => ({
    name: g.name,
    ...readability(types, g),
  }));
  const wrong = all.filter((g) => g.behind.length + g.backwards.length + g.overlaps.length > 0);
  expect(wrong).toEqual([]);
  // Laid out by hand, the demo had 36, and 35 wires behind a card and 18 backwards; since then a walking heron came, whose
  // 23 cards cross 3 times.
  const mine = all.slice(0, demo.project.graphs.length);
  expect(mine.reduce((n, g) => n + g.crossings, 0)).toBeLessThanOrEqual(15);
});
