import {
  CATALOGUE,
  catalogueOf,
  fitsPort,
  moduleKey,
  nodeTitle,
  resolveGraph,
  setInput,
  setSetting,
  usedKey,
  usesOf,
  versionWords,
  wallsOf,
  type GraphRecord,
  type InputValue,
  type ModuleRecord,
  type OpenedProject,
  type Project,
  type Way,
} from '@umberfish/core';
import { CommandError } from './command-error.ts';
import { oneCalled, unknownName } from './names.ts';

const versionOf = (m: ModuleRecord) =>
  m.version > 0 ? `${versionWords(m.version)}${m.edited ? ', changed' : ''}` : 'not published';

/** `umberfish modules`: the modules of a project, with their ways and dials, and how often each is used. */
export function modules({ project }: OpenedProject): string[] {
  if (project.modules.length === 0) return ['No modules.'];
  return project.modules.flatMap((m) => {
    const { ins, outs } = wallsOf(CATALOGUE, m.graph);
    const uses = usesOf(project, moduleKey(m)).length;
    const line = (way: Way, side: string) =>
      `  ${side.padEnd(4)}${way.name.padEnd(18)} ${way.kind.padEnd(9)}${defaultWords(way)}`;
    return [
      `${m.name}  (${versionOf(m)}, ${uses} ${uses === 1 ? 'use' : 'uses'})${m.summary ? `  ${m.summary}` : ''}`,
      ...ins.map((w) => line(w, 'in')),
      ...outs.map((w) => line(w, 'out')),
      '',
    ];
  });
}

function defaultWords({ default: value, unit, range }: Way): string {
  if (value === null) return '';
  const words = typeof value === 'object' ? ('expression' in value ? value.expression : JSON.stringify(value)) : String(value);
  return `${words}${unit ? ` ${unit}` : ''}${range ? `  (${range.min} to ${range.max})` : ''}`;
}

/** The uses of a graph as a tree, indented. */
export function useTree(project: Project, graph: GraphRecord, indent = '    ', within: readonly string[] = []): string[] {
  return graph.nodes.flatMap((node) => {
    const key = usedKey(node);
    const module = project.modules.find((m) => moduleKey(m) === key);
    if (key === undefined) return [];
    if (!module) return [`${indent}${node.title || key}: its module is missing`];
    const inner =
      within.includes(key) || within.length > 31 ? [] : useTree(project, module.graph, `${indent}  `, [...within, key]);
    return [`${indent}${node.title || module.name}  ${versionOf(module)}`, ...inner];
  });
}

/**
 * The project with dials turned: each `USE.DIAL=VALUE`, a use by its title or id, a dial by its name or id.
 * @throws CommandError
 */
export function withDials(project: Project, sets: readonly string[]): Project {
  return sets.reduce(withDial, project);
}

function withDial(project: Project, text: string): Project {
  const parts = /^(.+?)\.([^.=]+)=(.*)$/.exec(text);
  if (!parts) throw new CommandError(`--set "${text}": expected USE.DIAL=VALUE, such as "Swell.height=0.3".`);
  const [, useName, dialName, value] = parts;
  const types = catalogueOf(CATALOGUE, project);
  const nodes = project.graphs.flatMap((g) =>
    [...resolveGraph(types, g).values()].filter((n) => usedKey(n.record) !== undefined),
  );
  const called = nodes.filter((n) => n.record.id === useName || nodeTitle(n).toLowerCase() === useName.toLowerCase());
  if (called.length === 0) throw unknownName('use of a module', useName, nodes.map(nodeTitle), 'the project has none');
  if (called.length > 1)
    throw new CommandError(
      `--set "${text}": ${called.length} uses are called "${useName}". Say which by its id: ${called.map((n) => n.record.id).join(', ')}.`,
    );
  const [use] = called;
  const isDial = (d: { id: string; label: string }) => d.id === dialName || d.label.toLowerCase() === dialName.toLowerCase();
  const port = use.inputs.find(isDial);
  const setting = use.definition?.settings.find(isDial);
  const where = `--set "${text}"`;
  if (port) {
    if (use.wires.has(port.id))
      throw new CommandError(`${where}: a wire leads to "${port.label}", which stands before any number.`);
    const typed = parseValue(value);
    if (typed === undefined || !fitsPort(port, typed))
      throw new CommandError(
        `${where}: "${value}" does not fit "${port.label}" (${port.kind}). Use a number, yes or no, or three numbers parted by commas.`,
      );
    return setInput(use.graph.id, use.record.id, port.id, typed)(project);
  }
  if (setting?.type === 'object') {
    const object = oneCalled('object', value, project.objects, (o) => o);
    if (!object)
      throw unknownName(
        'object',
        value,
        project.objects.map((o) => o.name),
        'the project has none',
      );
    return setSetting(types, use.graph.id, use.record.id, setting.id, object.id)(project);
  }
  if (setting?.type === 'choice') {
    const option = setting.options.find((o) => o.value === value || o.label.toLowerCase() === value.toLowerCase());
    if (!option)
      throw unknownName(
        'choice',
        value,
        setting.options.map((o) => o.label),
        'there is none',
      );
    return setSetting(types, use.graph.id, use.record.id, setting.id, option.value)(project);
  }
  const known = [...use.inputs.map((i) => i.label), ...(use.definition?.settings ?? []).map((s) => s.label)];
  if (setting) throw new CommandError(`${where}: "${setting.label}" is a ${setting.type}, which a command line cannot say.`);
  throw unknownName('dial', dialName, known, `${nodeTitle(use)} has none`);
}

/** A number, yes or no, or three numbers; undefined for other text. */
function parseValue(text: string): InputValue | undefined {
  const t = text.trim();
  if (t === 'yes' || t === 'no') return t === 'yes';
  const numbers = t.split(',').map((x) => (x.trim() === '' ? NaN : Number(x)));
  if (!numbers.every(Number.isFinite)) return undefined;
  if (numbers.length === 3) return numbers as unknown as readonly [number, number, number];
  return numbers.length === 1 ? numbers[0] : undefined;
}
