import { expose, transfer } from 'comlink';
import {
  CATALOGUE,
  Cancelled,
  catalogueOf,
  ContactLog,
  contactRefs,
  copiesToMesh,
  elementsId,
  Evaluator,
  growPoints,
  meshId,
  invertPoints,
  shrinkPoints,
  SHOWN_PORT,
  statisticsOf,
  placeAtRest,
  takeSnapshot,
  withDifference,
  type ContactReport,
  type Evaluation,
  type Mesh,
  type PortRef,
  type Project,
  type Snapshot,
  type Standing,
  type Statistics,
  type Vec3,
} from '@umberfish/core';
import { buffersOf, instancesOf, linesOf, needlesBetween, onPoints, paint, paintAttribute, paintFalloff } from './picture.ts';
import { integers, memory, shares } from './shared-memory.ts';
import { ghostsOf } from './frame-ghosts.ts';
import { MeshSender } from './mesh-sender.ts';
import { liesByUv, pictureVertices } from './picture-vertices.ts';
import { collected, paintedObjects, RestingLook, worldsOver, writeMotion } from './objects-desk.ts';
import { addToHistory, overRange, type History } from './range.ts';
import { COMPARE_KEYS, readReports } from './request.ts';
import { paintableOf, type Paintable, type PaintAsked } from './paint-desk.ts';
import { sideValue, TableDesk, type Sort } from './table-desk.ts';
import {
  CONTROL,
  partKey,
  type Picture,
  type PictureMesh,
  type PictureRequest,
  type Side,
  type TableHeader,
  type WriteRequest,
  type Written,
} from './protocol.ts';

/** Without shared memory, the worker breathes this often, so that it hears of newer requests. */
const BREATH_IN_MS = 12;
/** A longer range is looked at in steps. */
const MOST_HISTORY = 2000;

/** A mesh in memory of its own, which can be stored. */
const unshared = (mesh: Mesh): Mesh => ({
  ...mesh,
  topology: withOwnArrays(mesh.topology),
  positions: mesh.positions.slice(),
  attributes: mesh.attributes.map(withOwnArrays),
});

const withOwnArrays = <T extends object>(record: T): T =>
  Object.fromEntries(
    Object.entries(record).map(([key, v]) => [key, v instanceof Float32Array || v instanceof Int32Array ? v.slice() : v]),
  ) as T;

/** The worker's own state, one per worker. */
class Studio {
  private evaluator = this.newEvaluator();
  private project: Project | null = null;
  private control: Int32Array | null = null;
  private newest = 0;
  private sender = new MeshSender(this.evaluator.arrays, shares);
  private readonly desk = new TableDesk();
  /** Pictures begun; work over a range gives way to each. */
  private drawn = 0;
  private readonly ranges = { newest: 0 };
  private readonly resting = new RestingLook();

  /** @param lock name of a lock that is held as long as this worker lives, so that the page hears of its end. */
  async start(control: Int32Array | null, cacheInBytes: number, lock: string): Promise<void> {
    this.control = control;
    this.evaluator = this.newEvaluator(cacheInBytes);
    this.sender = new MeshSender(this.evaluator.arrays, shares);
    await new Promise<void>((held) => {
      if (!navigator.locks) held();
      else void navigator.locks.request(lock, () => (held(), new Promise(() => {})));
    });
  }

  private newEvaluator(cacheInBytes?: number): Evaluator {
    return new Evaluator(CATALOGUE, { now: () => performance.now(), arrays: { memory }, integers, cacheInBytes });
  }

  /** A sign of life. */
  private readonly beat = (): void => {
    if (this.control) Atomics.add(this.control, CONTROL.beats, 1);
  };

  setBudget(bytes: number): void {
    this.evaluator.setBudget(bytes);
  }

  /** Takes over a mesh; arrays arrive transferred or shared. */
  setAsset(id: string, mesh: Mesh): void {
    this.evaluator.setAsset(id, mesh);
  }

  /** Without shared memory: tells that a newer request was made. */
  announce(id: number): void {
    this.newest = Math.max(this.newest, id);
  }

  /** Takes a document, or what differs in it: records that do not differ stay the objects they were. */
  private take(sent: NonNullable<PictureRequest['project']>): void {
    if ('whole' in sent) this.project = sent.whole;
    else if (this.project) this.project = withDifference(this.project, sent.difference);
  }

  /** Evaluates and gives the picture, or null when a newer request made it pointless. */
  async draw(request: PictureRequest): Promise<Picture | null> {
    this.newest = Math.max(this.newest, request.id);
    this.drawn++;
    if (request.project) this.take(request.project);
    if (!this.project) return null;
    const before = performance.now();
    const checkpoint = () => {
      this.beat();
      if (this.control) {
        if (Atomics.load(this.control, CONTROL.newest) > request.id) throw new Cancelled();
      } else if (this.newest > request.id) throw new Cancelled();
    };
    try {
      const steps = this.evaluator.steps({
        project: this.project,
        frame: request.frame,
        wanted: request.wanted,
        gesture: request.gesture,
        checkpoint,
      });
      let breath = performance.now();
      let step = steps.next();
      while (!step.done) {
        if (this.control) {
          Atomics.store(this.control, CONTROL.done, step.value.done);
          Atomics.store(this.control, CONTROL.all, step.value.all);
        }
        if (!this.control && performance.now() - breath > BREATH_IN_MS) {
          await new Promise((resolve) => setTimeout(resolve, 0));
          breath = performance.now();
        }
        step = steps.next();
      }
      const evaluation = step.value;
      const costInMs = performance.now() - before;
      this.sender.begin();
      const meshes = this.meshesOf(request, evaluation, checkpoint);
      const ghosts = ghostsOf(this.evaluator, this.project, this.sender, request, meshes, checkpoint);
      const picture: Picture = {
        id: request.id,
        frame: request.frame,
        meshes,
        lines: linesOf(request, evaluation),
        ghosts,
        driven: evaluation.allDriven(),
        painted: paintedObjects(this.evaluator, this.project, request, evaluation),
        reports: readReports(this.resting.reports(this.evaluator, this.project, evaluation), request.glanced),
        statistics: this.statisticsOf(request, evaluation),
        table: this.tableOf(request, evaluation, meshes, checkpoint),
        costInMs,
        takenBytes: this.evaluator.arrays.takenBytes,
      };
      this.sender.commit();
      this.evaluator.settle();
      return shares ? picture : transfer(picture, buffersOf(meshes));
    } catch (error) {
      if (error instanceof Cancelled) return null;
      throw error;
    }
  }

  /** Bakes a result at one frame. @throws Error with a sentence when there is no mesh */
  async write(request: WriteRequest): Promise<Written> {
    const { bakeResult } = await import('@umberfish/bake');
    const { project, frame, result, format, stem } = request;
    const bake = { project, evaluator: this.evaluator, frames: [frame], result, format, stem };
    return collected(bakeResult({ ...bake, numbered: true, keepGoing: true, checkpoint: this.beat }));
  }

  /** What an output is at a frame as a mesh by itself, with its content id; undefined where it is none. */
  meshOf(project: Project, frame: number, ref: PortRef): { readonly id: string; readonly mesh: Mesh } | undefined {
    const value = this.evaluator.evaluate({ project, frame, wanted: [ref], purpose: 'snapshot' }).value(ref);
    const mesh = value?.form === 'geometry' ? value.mesh : value?.form === 'copies' ? copiesToMesh(value.copies) : undefined;
    return mesh && { id: meshId(mesh), mesh: unshared(mesh) };
  }

  /** What a brush has to know of an output at a frame, of the document as it was drawn last; undefined where it is no mesh. */
  paintable(frame: number, ref: PortRef, asked: PaintAsked): Paintable | undefined {
    if (!this.project) return undefined;
    const value = this.evaluator.evaluate({ project: this.project, frame, wanted: [ref], purpose: 'snapshot' }).value(ref);
    return value?.form === 'geometry' ? paintableOf(value.mesh, asked) : undefined;
  }

  /** Where everything a constraint reads stands at a frame; undefined when something is missing. */
  snapshot(project: Project, frame: number, node: string, standing?: Standing): Snapshot | undefined {
    return takeSnapshot(this.evaluator, project, frame, node, standing);
  }

  /** Where on a result at rest a place lies that is on it now. */
  placeAtRest(project: Project, frame: number, node: string, place: Vec3): Vec3 {
    const ref = { node, port: SHOWN_PORT };
    const value = this.evaluator.evaluate({ project, frame, wanted: [ref], purpose: 'snapshot' }).value(ref);
    return value?.form === 'geometry' ? placeAtRest(value.mesh, place) : place;
  }

  /** World matrices of objects over frames, sixteen numbers each, one object after the other for every frame. */
  worlds(project: Project, objects: readonly string[], frames: readonly number[]): Promise<Float64Array> {
    return worldsOver(this.evaluator, project, objects, frames, this.beat);
  }

  /** Writes the motion of objects over the range of the project. @throws Error with a sentence */
  writeObjects(project: Project, ids: readonly string[], format: 'glb' | 'csv', stem: string): Promise<Written> {
    return writeMotion(this.evaluator, project, ids, format, stem, this.beat);
  }

  rows(first: number, count: number, sort: Sort) {
    return this.desk.rows(first, count, sort);
  }

  csv(sort: Sort): Promise<string | null> {
    return this.desk.csv(sort);
  }

  rowOf(element: number, sort: Sort): number {
    return this.desk.rowOf(element, sort);
  }

  /** What an output is over a range of frames; null when something else came first. */
  async history(ref: PortRef, first: number, last: number): Promise<History | null> {
    const history: History = { frames: [], minimum: [], mean: [], maximum: [] };
    const step = Math.ceil((last - first + 1) / MOST_HISTORY);
    const done = await this.over([ref], { first, last, step }, (frame, e) => addToHistory(history, frame, e, ref));
    return done ? history : null;
  }

  /** What the contacts of a node do over a range of frames; null when something else came first, or it has none. */
  async contacts(node: string, first: number, last: number): Promise<ContactReport | null> {
    const refs = this.project && contactRefs(catalogueOf(CATALOGUE, this.project), this.project, node);
    if (!refs) return null;
    const log = new ContactLog(refs);
    const step = Math.ceil((last - first + 1) / MOST_HISTORY);
    const done = await this.over(log.wanted, { first, last, step }, (frame, e) => log.add(frame, e));
    return done ? log.report() : null;
  }

  /** Evaluates a range ahead, so that it plays at once; false when something else came first. */
  keepRange(wanted: readonly PortRef[], first: number, last: number): Promise<boolean> {
    return this.over(wanted, { first, last, step: 1 }, () => {});
  }

  /** Frames of a range of which everything wanted is kept; fewer when a picture comes first. */
  async keptFrames(wanted: readonly PortRef[], first: number, last: number): Promise<number[]> {
    const { project, evaluator, drawn } = this;
    const kept: number[] = [];
    let breath = performance.now();
    for (let frame = first; project && frame <= last; frame++) {
      if (performance.now() - breath > BREATH_IN_MS) {
        await new Promise((resolve) => setTimeout(resolve, 0));
        breath = performance.now();
        if (this.drawn !== drawn) break;
      }
      this.beat();
      if (evaluator.isKept({ project, frame, wanted })) kept.push(frame);
    }
    return kept;
  }

  private over(
    wanted: readonly PortRef[],
    frames: { first: number; last: number; step: number },
    take: (frame: number, e: Evaluation) => void,
  ) {
    const { project, evaluator, ranges } = this;
    if (!project) return Promise.resolve(false);
    const mine = ++ranges.newest;
    const drawn = this.drawn;
    const goesOn = () => {
      this.beat();
      return ranges.newest === mine && this.drawn === drawn && this.project === project;
    };
    return overRange({ evaluator, project, wanted, ...frames, goesOn }, take);
  }

  /** Points with their neighbours, without those at their rim, or all others. */
  changePoints(asset: string, points: readonly number[], how: 'grow' | 'shrink' | 'invert'): number[] {
    const mesh = this.evaluator.getAsset(asset);
    if (!mesh) return [...points];
    const change = { grow: growPoints, shrink: shrinkPoints, invert: invertPoints }[how];
    return change(mesh.topology, points);
  }

  /** Elements of the table whose value in a column lies within a range. */
  within(column: number, from: number, to: number): number[] {
    return this.desk.within(column, from, to);
  }

  private meshesOf(request: PictureRequest, evaluation: Evaluation, checkpoint: () => void): PictureMesh[] {
    const meshes: PictureMesh[] = [];
    const weights = request.paintWith ? evaluation.value(request.paintWith) : undefined;
    const falloff = weights?.form === 'falloff' ? weights.falloff : undefined;
    for (const { key, ref, colourBy, source } of request.shown) {
      const value = evaluation.value(ref);
      const column = colourBy ? evaluation.value(colourBy) : undefined;
      if (value?.form === 'copies') {
        const by = { column: column?.form === 'column' && column.owner === value.copies.id ? column : undefined, falloff };
        value.copies.sources.forEach((source, i) =>
          meshes.push({
            ...this.sender.meshFor(request, partKey(key, i), source, checkpoint),
            instances: instancesOf(value.copies, i, by),
          }),
        );
      }
      if (value?.form !== 'geometry') continue;
      const vertices = pictureVertices(value.mesh, liesByUv(request, value.mesh));
      const fits = column?.form === 'column' && column.owner === elementsId(value.mesh.topology, column.on);
      const painted = fits
        ? paint(value.mesh, vertices, onPoints(value.mesh, column), colourBy?.label ?? '')
        : falloff
          ? paintFalloff(value.mesh, vertices, falloff, request.paintWith?.label ?? '', value.mesh.positions)
          : paintAttribute(
              value.mesh,
              vertices,
              request.paint ?? OWN_COLOUR,
              source === undefined ? undefined : this.evaluator.getAsset(source),
            );
      meshes.push({ ...this.sender.meshFor(request, key, value.mesh, checkpoint), ...painted });
    }
    for (const id of request.assets) {
      const mesh = this.evaluator.getAsset(id);
      if (mesh) meshes.push(this.sender.meshFor(request, `asset ${id}`, mesh, checkpoint));
    }
    return meshes;
  }

  private statisticsOf(request: PictureRequest, evaluation: Evaluation): Picture['statistics'] {
    const out = new Map<string, Statistics>();
    for (const ref of request.statistics) {
      const value = evaluation.value(ref);
      if (value) out.set(`${ref.node}.${ref.port}`, statisticsOf(value));
    }
    return out;
  }

  /** The table of one output, or of two side by side; then A is drawn as a ghost, and B with needles from A. */
  private tableOf(
    request: PictureRequest,
    evaluation: Evaluation,
    meshes: PictureMesh[],
    checkpoint: () => void,
  ): TableHeader | null {
    const { compare, frame } = request;
    if (!compare || !this.project) return this.desk.open(request.table, evaluation);
    const project = this.project;
    const read = (side: Side) => {
      if (side.frame === null || side.frame === frame) return sideValue(side, evaluation);
      const wanted = side.context ? [side.ref, side.context] : [side.ref];
      return sideValue(side, this.evaluator.evaluate({ project, frame: side.frame, wanted, purpose: 'compare', checkpoint }));
    };
    const [a, b] = [read(compare.a), read(compare.b)];
    if (a?.context) meshes.push(this.sender.meshFor(request, COMPARE_KEYS.a, a.context, checkpoint));
    if (b?.context) {
      const needles = compare.needles && a?.context ? { needles: needlesBetween(a.context, b.context, 'from A to B') } : {};
      meshes.push({ ...this.sender.meshFor(request, COMPARE_KEYS.b, b.context, checkpoint), ...needles });
    }
    return this.desk.compare(compare, a, b);
  }
}

/** Without anything else to show, a mesh that has colours is shown in them. */
const OWN_COLOUR = { name: 'colour', as: 'rgb', unsaid: true } as const;

export type StudioApi = Studio;

expose(new Studio());
