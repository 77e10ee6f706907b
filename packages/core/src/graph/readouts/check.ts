import { Evaluator } from '../evaluate/evaluator.ts';
import { shownResults } from '../network/shown.ts';
import { drivingNodes } from '../network/facets.ts';
import { allFinite } from '../../maths/finite.ts';
import type { Catalogue } from '../node/catalogue.ts';
import { problemWords, type Severity } from '../node/problems.ts';
import { catalogueOf } from '../../modules/definitions.ts';
import { wrongWire } from '../network/connect.ts';
import { nodeTitle, resolveNode, resolveProject } from '../network/resolve.ts';
import { wrongChannels } from '../../scene/channels.ts';
import { withRemoved } from '../../scene/removed.ts';
import { SHOWN_PORT } from '../node/definition.ts';
import type { OpenedProject } from '../../project/file.ts';

/** One line of a check: where, how bad, and the sentence. */
export interface Finding {
  readonly where: string;
  readonly severity: Severity;
  readonly message: string;
}

/**
 * Looks for everything wrong with a project: what was put right when it was opened, and the problems of every
 * result at a frame.
 */
export function checkProject(catalogue: Catalogue, opened: OpenedProject, frame = opened.project.range.first): Finding[] {
  const { project, assets, repairs } = opened;
  const findings: Finding[] = repairs.map((message) => ({
    where: project.name,
    severity: 'warning',
    message,
  }));
  if (project.range.last < project.range.first) {
    findings.push({
      where: project.name,
      severity: 'error',
      message: 'The range ends before it begins. Set the last frame after the first.',
    });
  }
  const types = catalogueOf(catalogue, project);
  for (const graph of project.graphs) {
    for (const wire of graph.wires) {
      const message = wrongWire(types, graph, wire);
      const target = graph.nodes.find((n) => n.id === wire.to.node);
      if (message && target)
        findings.push({
          where: `${graph.name} / ${nodeTitle({ record: target, ...resolveNode(types, target) })}`,
          severity: 'error',
          message,
        });
    }
  }
  for (const { object, message } of wrongChannels(withRemoved(project), [frame]))
    findings.push({ where: object.name, severity: 'error', message });
  const evaluator = new Evaluator(catalogue);
  for (const [id, mesh] of assets) {
    evaluator.setAsset(id, mesh);
    if (allFinite(mesh.positions, 0, mesh.positions.length)) continue;
    const name = project.assets.find((a) => a.id === id)?.name ?? id;
    const index = Math.floor(mesh.positions.findIndex((v) => !Number.isFinite(v)) / 3);
    const message = `The place of point ${index} is not a finite number. Import the mesh again from a file that is sound.`;
    findings.push({ where: name, severity: 'error', message });
  }
  const nodesToRun = [...shownResults(catalogue, project).map((r) => r.node), ...drivingNodes(catalogue, project)];
  const wanted = nodesToRun.map((node) => ({ node, port: SHOWN_PORT }));
  const evaluation = evaluator.evaluate({ project, frame, wanted });
  const nodes = resolveProject(catalogue, project);
  for (const report of evaluation.reports.values()) {
    const node = nodes.get(report.node);
    if (!node) continue;
    for (const p of report.problems) {
      // Notes tell what a node did; nothing is wrong. Wires that are wrong were told above.
      if (p.code === 'waits' || p.severity === 'note') continue;
      const where = `${node.graph.name} / ${nodeTitle(node)}`;
      const message = problemWords(p);
      if (!findings.some((f) => f.where === where && f.message === message))
        findings.push({ where, severity: p.severity, message });
    }
  }
  return findings;
}
