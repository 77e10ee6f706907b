import type { AttributePlace } from '../../geometry/attributes.ts';
import { weigh } from '../../falloffs/weigh.ts';
import { elementCount, type Mesh } from '../../geometry/mesh.ts';
import { elementsId } from '../../geometry/topology.ts';
import type { Elements, LaneSource, Link } from './links.ts';
import type { Falloff } from '../../falloffs/falloff.ts';
import type { ElementPlan, InputPort, LaneKind, Uniforms } from '../node/definition.ts';
import { KIND_WORDS } from '../node/kinds.ts';
import { meshColumn } from '../node/mesh-lane.ts';
import { noWeight } from '../node/no-weight.ts';
import { NodeError, type Problem } from '../node/problems.ts';
import { originsOf, type ResolvedNode } from '../network/resolve.ts';
import { pointColumn, type Column, type ColumnPlace, type ElementKind, type Single, type Value } from '../node/values.ts';

/** A column that the chain it belongs to has not computed, and may never store. */
export interface Pending<Run> {
  readonly form: 'pending';
  readonly kind: LaneKind;
  readonly count: number;
  readonly on: ColumnPlace;
  readonly owner: string;
  readonly run: Run;
  readonly output: number;
}

export type Arriving<Run> = Value | Pending<Run>;

/** What a per-element node works on, once everything has arrived. */
export interface ElementInputs {
  readonly plan: ElementPlan;
  /** Meshes that arrived, by port. */
  readonly meshes: ReadonlyMap<string, Mesh>;
  readonly uniforms: Uniforms;
  /** Undefined when only single values arrived: then there is one result for all. */
  readonly elements: Elements | undefined;
  /** In the order of `plan.inputs`. */
  readonly sources: readonly LaneSource[];
}

/**
 * Sorts what arrives at a per-element node: its plan, whose elements it works on, and where each lane comes from.
 * @param inputAt the checked value at an input. @param linkOf the link of a pending column.
 * @throws NodeError when something is missing or counts differ.
 */
export function gatherElements<Run>(
  node: ResolvedNode,
  inputAt: (port: string) => Arriving<Run> | undefined,
  linkOf: (run: Run) => Link,
  report: (problem: Problem) => void,
  checkpoint: () => void,
): ElementInputs {
  const arriving = new Map<string, Arriving<Run>>();
  const meshes = new Map<string, Mesh>();
  const falloffs = new Map<InputPort, Falloff>();
  const kinds: Record<string, ElementKind> = {};
  const uniforms: Record<string, number> = {};
  for (const port of node.inputs) {
    const value = inputAt(port.id);
    if (!value || value.kind === 'matrix') continue;
    if (value.form === 'falloff') {
      falloffs.set(port, value.falloff);
      continue;
    }
    if (value.form === 'curves' || value.form === 'copies' || value.form === 'driven' || value.form === 'chain') continue;
    if (value.form === 'geometry') {
      meshes.set(port.id, value.mesh);
      continue;
    }
    arriving.set(port.id, value);
    kinds[port.id] = value.kind;
    const none = value.form === 'column' && value.data instanceof Float32Array ? noWeight(port, value.data) : undefined;
    if (none) report(none);
    if (value.form === 'single' && value.data.length === 1) uniforms[port.id] = value.data[0];
  }
  for (const [port, falloff] of falloffs) {
    const mesh = meshes.get(port.weighs ?? 'mesh');
    if (!mesh) throw new NodeError({ code: 'input-missing', port: port.weighs ?? 'mesh', needs: KIND_WORDS.mesh });
    const weights = weigh(falloff, mesh.positions, new Float32Array(mesh.topology.pointCount), checkpoint);
    const none = noWeight(port, weights, { falloff, points: mesh.positions });
    if (none) report(none);
    arriving.set(port.id, pointColumn(mesh, 'number', weights));
    kinds[port.id] = 'number';
  }
  const plan = node.definition?.elements?.plan(node.settings, kinds, meshes);
  if (!plan) throw new NodeError({ code: 'unknown-type', type: node.record.type });
  const labelOf = (port: string) => node.inputs.find((p) => p.id === port)?.label ?? port;
  const from = plan.mesh ? meshes.get(plan.mesh.from) : undefined;
  const taken = plan.inputs.map(({ port, lane, read }): Arriving<Run> => {
    const mesh = meshes.get(port);
    const value = mesh ? meshColumn(mesh, read ?? 'position', plan.mesh?.on ?? 'point') : arriving.get(port);
    if (!value) throw new NodeError({ code: 'input-missing', port: labelOf(port), needs: KIND_WORDS[lane] });
    return value;
  });
  const elements = pairColumns(
    plan.inputs.map((input, i) => ({
      id: input.port,
      port: labelOf(input.port),
      value: taken[i],
      isMesh: meshes.has(input.port),
    })),
    plan.mesh && from ? ownerOf(from, plan.mesh.on, labelOf(plan.mesh.from), plan.mesh.from) : undefined,
    node,
    report,
  );
  const sources = taken.map((value): LaneSource =>
    value.form === 'pending'
      ? { from: 'link', link: linkOf(value.run), output: value.output }
      : { from: 'value', value: value as Single | Column },
  );
  return { plan, meshes, uniforms, elements, sources };
}

interface Owner extends Elements {
  readonly id: string;
  readonly port: string;
  readonly isMesh: boolean;
}

const ownerOf = (mesh: Mesh, on: AttributePlace, port: string, id: string): Owner => ({
  id,
  count: elementCount(mesh.topology, on),
  on,
  owner: elementsId(mesh.topology, on),
  port,
  isMesh: true,
});

/** Columns pair up by count, and with the mesh where there is one (DECISIONS 14). @throws NodeError */
function pairColumns<Run>(
  inputs: readonly { id: string; port: string; value: Arriving<Run>; isMesh: boolean }[],
  mesh: Owner | undefined,
  node: ResolvedNode,
  report: (problem: Problem) => void,
): Elements | undefined {
  let first = mesh;
  for (const { id, port, value, isMesh } of inputs) {
    if (value.form !== 'column' && value.form !== 'pending') continue;
    const { count, on, owner } = value;
    if (!first) first = { id, count, on, owner, port, isMesh };
    else if (first.count !== count) {
      if (first.isMesh) {
        const origins = originsOf(node, [id, first.id]);
        throw new NodeError({ code: 'column-fit', port, count, points: first.count, on: first.on, origins });
      }
      const origins = originsOf(node, [first.id, id]);
      throw new NodeError({
        code: 'column-counts',
        first: first.port,
        firstCount: first.count,
        second: port,
        secondCount: count,
        origins,
      });
    } else if (first.owner !== owner || first.on !== on) {
      report({ code: 'column-owners', first: first.port, second: port, count, severity: 'warning' });
    }
  }
  return first;
}
