import { CATALOGUE, catalogueOf, ContactLog, contactRefs, nodeTitle, type OpenedProject } from '@umberfish/core';
import { contactsToCsv, contactsToJson } from '@umberfish/formats';
import { CommandError } from './command-error.ts';
import { parseFrames } from './frames.ts';
import { evaluatorFor } from './open.ts';
import { nodeCalled } from './values.ts';

export interface ContactOptions {
  node: string;
  frames?: string;
  format: string;
}

/** `umberfish contacts`: what the contacts of a card do over frames, as text. @throws CommandError */
export function contacts(opened: OpenedProject, options: ContactOptions): string {
  const { project } = opened;
  const node = nodeCalled(project, options.node);
  if (options.format !== 'csv' && options.format !== 'json')
    throw new CommandError(`--format "${options.format}": expected csv or json.`);
  const refs = contactRefs(catalogueOf(CATALOGUE, project), project, node.record.id);
  if (!refs) throw new CommandError(`${nodeTitle(node)} tells of no contacts: name a Ground Contact with a ground.`);
  const { first, last } = project.range;
  const frames = parseFrames(options.frames ?? `${first}-${last}`);
  const evaluator = evaluatorFor(opened);
  const log = new ContactLog(refs);
  for (const frame of frames) log.add(frame, evaluator.evaluate({ project, frame, wanted: log.wanted, purpose: 'history' }));
  const report = log.report();
  if (report.rows.length === 0) throw new CommandError(`${nodeTitle(node)} has no contacts at any of these frames.`);
  return options.format === 'csv'
    ? contactsToCsv(report)
    : `${JSON.stringify({ node: nodeTitle(node), ...contactsToJson(report) })}\n`;
}
