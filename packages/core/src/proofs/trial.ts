import { setInput, setSetting } from '../edits/document.ts';
import { transformMesh } from '../geometry/transform.ts';
import type { Mesh } from '../geometry/mesh.ts';
import { Evaluator } from '../graph/evaluate/evaluator.ts';
import { worldsAt } from '../graph/evaluate/sample-objects.ts';
import { drivingNodes } from '../graph/network/facets.ts';
import { shownResults } from '../graph/network/shown.ts';
import { SHOWN_PORT } from '../graph/node/definition.ts';
import { problemWords } from '../graph/node/problems.ts';
import { CATALOGUE } from '../nodes/index.ts';
import { catalogueOf } from '../modules/definitions.ts';
import { wallsOf } from '../modules/walls.ts';
import type { InputValue, SettingValue } from '../project/fields.ts';
import { moduleKey, usedKey } from '../project/modules.ts';
import type { ModuleRecord, NodeRecord, Project } from '../project/schema.ts';
import { BODY, fineMesh, type Example } from './example.ts';

/** Milliseconds that one proof may take. */
const MOST_MS = 20_000;

/** A module made nothing on its example, or took too long: one sentence why. */
export class ProofError extends Error {}

/** Dials of a module, by way: what is typed there, or chosen; those that are left out stand at their default. */
export type Dials = Readonly<Record<string, InputValue | SettingValue>>;

/** The example of a module, evaluated with dials turned. */
export class Trial {
  readonly evaluator = new Evaluator(CATALOGUE, { cacheInBytes: 5e7 });
  private begun: number;
  private before: Mesh | undefined;

  /** @param now a clock in ms */
  constructor(
    readonly example: Example,
    readonly now: () => number,
  ) {
    this.begun = now();
    for (const [id, mesh] of example.assets) this.evaluator.setAsset(id, mesh);
  }

  /** What it may take is counted from now on. */
  again(): this {
    this.begun = this.now();
    return this;
  }

  private get module(): ModuleRecord {
    const { project, graph, use } = this.example;
    const node = project.graphs.find((g) => g.id === graph)?.nodes.find((n) => n.id === use);
    return project.modules.find((m) => moduleKey(m) === usedKey(node as NodeRecord)) as ModuleRecord;
  }

  /** The same on a hundred thousand points. */
  fine(): Trial {
    const { example } = this;
    return new Trial({ ...example, assets: new Map(example.assets).set(BODY, fineMesh(example.example)) }, this.now);
  }

  /**
   * The body as it is without the module: where it stands at frame 1. What a module makes by itself is compared with
   * what it makes at its defaults.
   */
  get rest(): Mesh {
    return (this.before ??= this.body() ?? this.at({}));
  }

  private body(): Mesh | undefined {
    const mesh = this.example.assets.get(BODY);
    const { project } = this.example;
    if (!mesh || project.objects.every((o) => o.id !== BODY)) return undefined;
    const bare = { ...project, graphs: [] };
    return this.example.carries ? this.inWorld(bare, mesh, 1) : mesh;
  }

  /** What comes out with dials at a frame, in world space. @throws ProofError */
  at(dials: Dials, frame = 1): Mesh {
    const project = this.turned(dials);
    const [shown] = this.example.carries ? drivingNodes(CATALOGUE, project) : shownResults(CATALOGUE, project).map((r) => r.node);
    const wanted = [{ node: shown, port: SHOWN_PORT }];
    const checkpoint = () => {
      if (this.now() - this.begun > MOST_MS) throw new ProofError(`It was stopped after ${MOST_MS / 1000} s.`);
    };
    const evaluation = this.evaluator.evaluate({ project, frame, wanted, checkpoint });
    // A node in error passes its mesh on, which keeps many a promise that the module would not.
    const problem = [...evaluation.reports.values()]
      .flatMap((r) => r.problems)
      .find((p) => p.severity === 'error' && p.code !== 'waits');
    if (problem) throw new ProofError(problemWords(problem));
    const value = evaluation.value(wanted[0]);
    if (value?.form === 'geometry') return value.mesh;
    const body = this.example.assets.get(BODY);
    if (!this.example.carries || !body) throw new ProofError('Nothing comes out.');
    return this.inWorld(project, body, frame);
  }

  private inWorld(project: Project, mesh: Mesh, frame: number): Mesh {
    const [world] = worldsAt(this.evaluator, project, [BODY], frame);
    return transformMesh(mesh, world, (count) => new Float32Array(count));
  }

  /** The example with its dials turned. */
  turned(dials: Dials): Project {
    const { graph, use, project } = this.example;
    if (Object.keys(dials).length === 0) return project;
    const { ins } = wallsOf(CATALOGUE, this.module.graph);
    const catalogue = catalogueOf(CATALOGUE, project);
    return Object.entries(dials).reduce((p, [way, v]) => {
      const isSetting = (ins.find((w) => w.id === way)?.sets.length ?? 0) > 0;
      return isSetting
        ? setSetting(catalogue, graph, use, way, v as SettingValue)(p)
        : setInput(graph, use, way, v as InputValue)(p);
    }, project);
  }
}
