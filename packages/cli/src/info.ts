import { CATALOGUE, several, shownResults, type OpenedProject } from '@umberfish/core';
import { useTree } from './modules.ts';

/** Plain digits, for other programs to read. */
const many = (n: number, noun: string) => `${n} ${n === 1 ? noun : several(noun)}`;

/** `umberfish info`: what is in a project, as lines of text. */
export function info({ project, repairs }: OpenedProject): string[] {
  const lines = [
    `${project.name}  (format ${project.version}, ${project.frameRate} frames a second, frames ${project.range.first} to ${project.range.last})`,
    '',
    `Objects: ${project.objects.length}`,
    ...project.objects.map((o) => `  ${o.type.padEnd(8)}${o.name}`),
    '',
    `Meshes: ${project.assets.length}`,
    ...project.assets.map((a) => `  ${a.name}: ${many(a.points, 'point')}, ${many(a.faces, 'face')}`),
    '',
    `Graphs: ${project.graphs.length}`,
    ...project.graphs.flatMap((g) => [
      `  ${g.name}: ${many(g.nodes.length, 'node')}, ${many(g.wires.length, 'wire')}`,
      ...useTree(project, g),
    ]),
    '',
    `Results: ${shownResults(CATALOGUE, project).length}`,
    ...shownResults(CATALOGUE, project).map((r) => `  ${r.name}`),
  ];
  return repairs.length > 0 ? [...lines, '', 'Put right on opening:', ...repairs.map((r) => `  ${r}`)] : lines;
}

/** The same as data, with the ids by which other commands take each. */
export function infoData({ project, repairs }: OpenedProject) {
  return {
    name: project.name,
    format: project.version,
    frameRate: project.frameRate,
    range: project.range,
    objects: project.objects.map(({ id, type, name, parent }) => ({ id, type, name, parent })),
    meshes: project.assets.map(({ id, name, points, faces }) => ({ id, name, points, faces })),
    graphs: project.graphs.map((g) => ({ id: g.id, name: g.name, nodes: g.nodes.length, wires: g.wires.length })),
    results: shownResults(CATALOGUE, project).map((r) => ({ id: r.node, name: r.name })),
    repairs,
  };
}
