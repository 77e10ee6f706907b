import { shownResults } from '@umberfish/core';
import { openProject } from './open.ts';

/** `umberfish info`: what is in a project, as lines of text. */
export function info(path: string): string[] {
  const { project, repairs } = openProject(path);
  const lines = [
    `${project.name}  (format ${project.version}, ${project.frameRate} frames a second, frames ${project.range.first} to ${project.range.last})`,
    '',
    `Objects: ${project.objects.length}`,
    ...project.objects.map((o) => `  ${o.type.padEnd(8)}${o.name}`),
    '',
    `Meshes: ${project.assets.length}`,
    ...project.assets.map((a) => `  ${a.name}: ${a.points} points, ${a.faces} faces`),
    '',
    `Graphs: ${project.graphs.length}`,
    ...project.graphs.map((g) => `  ${g.name}: ${g.nodes.length} nodes, ${g.wires.length} wires`),
    '',
    `Results: ${shownResults(project).length}`,
    ...shownResults(project).map((r) => `  ${r.name}`),
  ];
  return repairs.length > 0
    ? [...lines, '', 'Put right on opening:', ...repairs.map((r) => `  ${r}`)]
    : lines;
}
