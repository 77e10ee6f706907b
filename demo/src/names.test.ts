import { expect, test } from 'vitest';
import {
  CATALOGUE,
  checkProject,
  Evaluator,
  facetGraph,
  readProjectFile,
  resolveProject,
  SHOWN_PORT,
  shownResults,
  worldsAt,
  writeProjectFile,
  type Project,
  type SettingValue,
} from '@umberfish/core';
import { makeLanternQuay } from './project.ts';

// Names are data: whatever things are called, results are the same.

const HOSTILE = [
  '__proto__',
  'constructor',
  'toString',
  'hasOwnProperty',
  'valueOf',
  'prototype',
  '__defineGetter__',
  ' ',
  'a b',
  'x world',
  'x channel translate.x',
  'a.b',
  'a|b',
  'a,b',
  'a\\b',
  '..',
  '"',
  "'",
  '\\',
  '\n',
  '\r\n',
  '\0',
  '=1+1',
  '@sum',
  '<b>',
  '%20',
  '💥',
  'ﬁ',
  'é',
  'node 0',
  'object',
  'null',
  'undefined',
  'NaN',
  '0',
  '-1',
  '[object Object]',
  '${x}',
  'length',
  'then',
];
const demo = makeLanternQuay();

/** The demo with other ids and names for everything. */
function renamed(idOf: (id: string) => string, nameOf: (name: string) => string): Project {
  const { project } = demo;
  const objects = new Set(project.objects.map((o) => o.id));
  const setting = (v: SettingValue) => (typeof v === 'string' && objects.has(v) ? idOf(v) : v);
  return {
    ...project,
    name: nameOf(project.name),
    objects: project.objects.map((o) => ({
      ...o,
      id: idOf(o.id),
      // By their names nodes find joints, as they do attributes.
      name: o.type === 'joint' ? o.name : nameOf(o.name),
      parent: o.parent === null ? null : idOf(o.parent),
    })),
    graphs: project.graphs.map((g) => ({
      ...g,
      id: idOf(g.id),
      name: nameOf(g.name),
      preview: g.preview === null ? null : idOf(g.preview),
      nodes: g.nodes.map((n) => ({
        ...n,
        id: idOf(n.id),
        title: nameOf(n.title),
        settings: Object.fromEntries(Object.entries(n.settings).map(([k, v]) => [k, setting(v)])),
      })),
      wires: g.wires.map((w) => ({
        ...w,
        id: idOf(w.id),
        from: { ...w.from, node: idOf(w.from.node) },
        to: { ...w.to, node: idOf(w.to.node) },
      })),
      sections: g.sections.map((s) => ({ ...s, id: idOf(s.id), title: nameOf(s.title), nodes: s.nodes.map(idOf) })),
    })),
  };
}

const wantedOf = (p: Project) => shownResults(CATALOGUE, p).map((r) => ({ node: r.node, port: SHOWN_PORT }));
function everything(project: Project, frame: number) {
  const evaluator = new Evaluator(CATALOGUE);
  for (const [id, mesh] of demo.assets) evaluator.setAsset(id, mesh);
  const wanted = wantedOf(project);
  const evaluation = evaluator.evaluate({ project, frame, wanted });
  const shown = wanted.map((w) => {
    const v = evaluation.value(w);
    return v?.form === 'geometry' ? v.mesh.positions : v?.form === 'copies' ? v.copies.matrices : undefined;
  });
  const worlds = worldsAt(
    evaluator,
    project,
    project.objects.map((o) => o.id),
    frame,
  );
  const problems = [...evaluation.reports.values()].map((r) => r.problems.length);
  return { shown, worlds, problems };
}

test('results are the same whatever ids and names are, and they survive a file', () => {
  const before = everything(demo.project, 30);
  for (let shift = 0; shift < 3; shift++) {
    // Each run gives the hostile ids to other things.
    const ids = new Map<string, string>();
    const idOf = (id: string) => {
      if (!ids.has(id)) {
        const n = ids.size + shift * 40;
        ids.set(
          id,
          n % 3 === 0 && Math.floor(n / 3) % 120 < HOSTILE.length
            ? `${HOSTILE[Math.floor(n / 3) % 120]}${n < 360 ? '' : n}`
            : `id${n}`,
        );
      }
      return ids.get(id) as string;
    };
    let count = shift;
    const project = renamed(idOf, (name) => (name === '' ? '' : HOSTILE[count++ % HOSTILE.length]));
    const after = everything(project, 30);
    expect(after.shown).toEqual(before.shown);
    expect(after.worlds).toEqual(before.worlds);
    expect(after.problems).toEqual(before.problems);
    expect(facetGraph(CATALOGUE, project).loops.size).toBe(facetGraph(CATALOGUE, demo.project).loops.size);
    expect(resolveProject(CATALOGUE, project).size).toBe(resolveProject(CATALOGUE, demo.project).size);
    const { project: read, repairs } = readProjectFile(writeProjectFile(project, demo.assets));
    expect(repairs).toEqual([]);
    expect(JSON.parse(JSON.stringify(read))).toEqual(JSON.parse(JSON.stringify(project)));
    expect(checkProject(CATALOGUE, { project: read, assets: demo.assets, repairs: [] }, 30)).toEqual([]);
  }
});
