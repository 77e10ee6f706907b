import {
  CATALOGUE,
  catalogueOf,
  nodeTitle,
  problemWords,
  resolveGraph,
  resolveProject,
  usedKey,
  type OpenedProject,
  type Project,
  type ResolvedNode,
} from '@umberfish/core';
import { valueToCsv, valueToJson } from '@umberfish/formats';
import { CommandError } from './command-error.ts';
import { parseFrame } from './frames.ts';
import { oneCalled, unknownName } from './names.ts';
import { evaluatorFor } from './open.ts';

export interface ValuesOptions {
  node: string;
  port: string;
  frame: string;
  format: string;
}

/** `umberfish values`: the values of one output at a frame, as text. @throws CommandError */
export function values(opened: OpenedProject, options: ValuesOptions): string {
  const { project } = opened;
  const node = nodeCalled(project, options.node);
  const port = node.outputs.find((o) => o.id === options.port || o.label === options.port);
  if (!port)
    throw new CommandError(
      `${nodeTitle(node)} has no output "${options.port}". Outputs: ${node.outputs.map((o) => o.id).join(', ') || 'none'}.`,
    );
  const frame = parseFrame(options.frame);
  if (options.format !== 'csv' && options.format !== 'json')
    throw new CommandError(`--format "${options.format}": expected csv or json.`);
  const ref = { node: node.record.id, port: port.id };
  const evaluation = evaluatorFor(opened).evaluate({ project: opened.project, frame, wanted: [ref] });
  const value = evaluation.value(ref);
  if (!value) {
    const problem = [...evaluation.reports.values()]
      .flatMap((r) => r.problems)
      .find((p) => p.severity === 'error' && p.code !== 'waits');
    throw new CommandError(`No value, because: ${problem ? problemWords(problem) : 'nothing arrives.'}`);
  }
  if (options.format === 'csv') return valueToCsv(value);
  return `${JSON.stringify({ node: nodeTitle(node), port: port.label, frame, ...valueToJson(value) })}\n`;
}

/** A node of a project by its title or id. @throws CommandError */
export function nodeCalled(project: Project, wanted: string): ResolvedNode {
  const types = catalogueOf(CATALOGUE, project);
  const uses = project.graphs.flatMap((g) => [...resolveGraph(types, g).values()].filter((n) => usedKey(n.record) !== undefined));
  // A use comes before what is inside of one and called alike.
  const called = (n: ResolvedNode) => ({ id: n.record.id, name: nodeTitle(n) });
  const inside = [...resolveProject(CATALOGUE, project).values()];
  const nodes = [...uses, ...inside];
  const node = oneCalled('node', wanted, uses, called) ?? oneCalled('node', wanted, inside, called);
  if (node) return node;
  const known = [...new Set(nodes.flatMap((n) => [nodeTitle(n), n.record.id]))];
  throw unknownName('node', wanted, known, 'the project has none');
}
