import { expose, transfer } from 'comlink';
import {
  Cancelled,
  Evaluator,
  makeTable,
  SHOWN_PORT,
  sortRows,
  statisticsOf,
  tableRows,
  tableToCsv,
  type Evaluation,
  type Mesh,
  type Project,
  type Table,
} from '@umberfish/core';
import { makePictureTopology, paint, pictureTopologyId, vertexNormals, vertexPositions } from './picture.ts';
import {
  CONTROL,
  type Picture,
  type PictureMesh,
  type PictureRequest,
  type TableHeader,
  type WriteRequest,
  type Written,
} from './protocol.ts';

/** Without shared memory, the worker breathes this often, so that it hears of newer requests. */
const BREATH_IN_MS = 12;

const shares = typeof SharedArrayBuffer !== 'undefined' && self.crossOriginIsolated;
const floats = (n: number) => (shares ? new Float32Array(new SharedArrayBuffer(n * 4)) : new Float32Array(n));
const integers = (n: number) => (shares ? new Int32Array(new SharedArrayBuffer(n * 4)) : new Int32Array(n));

/** The worker's own state, one per worker. */
class Studio {
  private evaluator = new Evaluator({ now: () => performance.now(), floats, integers });
  private project: Project | null = null;
  private control: Int32Array | null = null;
  private newest = 0;
  private readonly sentTopologies = new Set<string>();
  private readonly sentPositions = new Map<string, Readonly<Float32Array>>();
  private sent: (() => void)[] = [];
  private table: { table: Table; version: number } | null = null;
  private order: { column: number; descending: boolean; rows: Int32Array; version: number } | null = null;

  start(control: Int32Array | null, cacheInBytes: number): void {
    this.control = control;
    this.evaluator = new Evaluator({ now: () => performance.now(), floats, integers, cacheInBytes });
  }

  /** Takes over a mesh; arrays arrive transferred or shared. */
  setAsset(id: string, mesh: Mesh): void {
    this.evaluator.setAsset(id, mesh);
  }

  /** Without shared memory: tells that a newer request was made. */
  announce(id: number): void {
    this.newest = Math.max(this.newest, id);
  }

  /** Evaluates and gives the picture, or null when a newer request made it pointless. */
  async draw(request: PictureRequest): Promise<Picture | null> {
    this.newest = Math.max(this.newest, request.id);
    if (request.project) this.project = request.project;
    if (!this.project) return null;
    const before = performance.now();
    const checkpoint = () => {
      if (this.control) {
        Atomics.add(this.control, CONTROL.beats, 1);
        if (Atomics.load(this.control, CONTROL.newest) > request.id) throw new Cancelled();
      } else if (this.newest > request.id) throw new Cancelled();
    };
    try {
      const steps = this.evaluator.steps({
        project: this.project,
        frame: request.frame,
        wanted: request.wanted,
        checkpoint,
      });
      let breath = performance.now();
      let step = steps.next();
      while (!step.done) {
        if (!this.control && performance.now() - breath > BREATH_IN_MS) {
          await new Promise((resolve) => setTimeout(resolve, 0));
          breath = performance.now();
        }
        step = steps.next();
      }
      const evaluation = step.value;
      const costInMs = performance.now() - before;
      this.sent = [];
      const meshes = this.meshesOf(request, evaluation, checkpoint);
      const picture: Picture = {
        id: request.id,
        frame: request.frame,
        meshes,
        reports: Object.fromEntries(evaluation.reports),
        statistics: this.statisticsOf(request, evaluation),
        table: this.tableOf(request, evaluation),
        costInMs,
      };
      // Only a picture that leaves counts as sent; one that is stopped half way does not.
      for (const commit of this.sent) commit();
      return shares ? picture : transfer(picture, buffersOf(meshes));
    } catch (error) {
      if (error instanceof Cancelled) return null;
      throw error;
    }
  }

  /** Evaluates a result and writes it. @throws Error with a sentence when there is no mesh */
  async write(request: WriteRequest): Promise<Written> {
    const { writeGlb, writeMtl, writeObj } = await import('@umberfish/formats');
    const ref = { node: request.node, port: SHOWN_PORT };
    const value = this.evaluator
      .evaluate({ project: request.project, frame: request.frame, wanted: [ref] })
      .value(ref);
    if (value?.form !== 'geometry') {
      throw new Error('There is no mesh to export: the result has an error or nothing arrives at it.');
    }
    const named = [{ name: request.name, mesh: value.mesh }];
    if (request.format === 'glb') return { content: await writeGlb(named) };
    const materials = value.mesh.materials.length > 0 ? writeMtl(named) : undefined;
    return { content: writeObj(named, request.library), materials };
  }

  /** Numbers of some rows of the present table, and which elements they are. */
  rows(
    first: number,
    count: number,
    sort: { column: number; descending: boolean } | null,
  ): { numbers: Float64Array; elements: Int32Array } | null {
    if (!this.table) return null;
    const { table } = this.table;
    const order =
      sort && sort.column < table.columns.length ? this.orderBy(sort.column, sort.descending) : undefined;
    const numbers = tableRows(table, first, count, order);
    const size = table.columns.length > 0 ? numbers.length / table.columns.length : 0;
    const elements = Int32Array.from({ length: size }, (_, i) => (order ? order[first + i] : first + i));
    return transfer({ numbers, elements }, [numbers.buffer, elements.buffer]);
  }

  /** The whole table as CSV, sorted as it is shown; null when there is none. */
  csv(sort: { column: number; descending: boolean } | null): string | null {
    if (!this.table) return null;
    const { table } = this.table;
    const sorted = sort && sort.column < table.columns.length;
    return tableToCsv(table, sorted ? this.orderBy(sort.column, sort.descending) : undefined);
  }

  /** The row in which an element stands. */
  rowOf(element: number, sort: { column: number; descending: boolean } | null): number {
    if (!sort || !this.table || sort.column >= this.table.table.columns.length) return element;
    return this.orderBy(sort.column, sort.descending).indexOf(element);
  }

  private orderBy(column: number, descending: boolean): Int32Array {
    const now = this.table as { table: Table; version: number };
    if (
      !this.order ||
      this.order.column !== column ||
      this.order.descending !== descending ||
      this.order.version !== now.version
    ) {
      this.order = {
        column,
        descending,
        rows: sortRows(now.table, column, descending),
        version: now.version,
      };
    }
    return this.order.rows;
  }

  private meshesOf(request: PictureRequest, evaluation: Evaluation, checkpoint: () => void): PictureMesh[] {
    const meshes: PictureMesh[] = [];
    for (const { key, ref, colourBy } of request.shown) {
      const value = evaluation.value(ref);
      if (value?.form !== 'geometry') continue;
      const column = colourBy ? evaluation.value(colourBy) : undefined;
      const fits =
        column?.form === 'column' && column.on === 'point' && column.owner === value.mesh.topology.id;
      const painted = fits ? paint(value.mesh, column, colourBy?.label ?? '') : {};
      meshes.push({ ...this.meshFor(key, value.mesh, checkpoint), ...painted });
    }
    for (const id of request.assets) {
      const mesh = this.evaluator.getAsset(id);
      if (mesh) meshes.push(this.meshFor(`asset ${id}`, mesh, checkpoint));
    }
    return meshes;
  }

  private meshFor(key: string, mesh: Mesh, checkpoint: () => void): PictureMesh {
    const topologyId = pictureTopologyId(mesh);
    const topology = this.sentTopologies.has(topologyId) ? undefined : makePictureTopology(mesh);
    const identity = `${key} ${topologyId}`;
    if (this.sentPositions.get(identity) === mesh.positions && !topology) return { key, topologyId };
    const normals = vertexNormals(mesh, floats, checkpoint);
    const positions = vertexPositions(mesh, floats);
    // Without shared memory the arrays are given away, so what is kept must be a copy.
    const given = !shares && positions === mesh.positions ? positions.slice() : positions;
    this.sent.push(() => {
      this.sentTopologies.add(topologyId);
      for (const known of this.sentPositions.keys())
        if (known.startsWith(`${key} `)) this.sentPositions.delete(known);
      this.sentPositions.set(identity, mesh.positions);
    });
    return { key, topologyId, topology, positions: given, normals };
  }

  private statisticsOf(request: PictureRequest, evaluation: Evaluation): Picture['statistics'] {
    const out: Picture['statistics'] = {};
    for (const ref of request.statistics) {
      const value = evaluation.value(ref);
      if (value) out[`${ref.node}.${ref.port}`] = statisticsOf(value);
    }
    return out;
  }

  private tableOf(request: PictureRequest, evaluation: Evaluation): TableHeader | null {
    const asked = request.table;
    const value = asked ? evaluation.value(asked.ref) : undefined;
    if (!asked || !value) {
      this.table = null;
      return null;
    }
    const context = asked.context ? evaluation.value(asked.context) : undefined;
    const table = makeTable(
      value,
      asked.label,
      asked.unit,
      asked.on,
      context?.form === 'geometry' ? context.mesh : undefined,
    );
    const version = (this.table?.version ?? 0) + 1;
    this.table = { table, version };
    const columns = table.columns.map(({ label, part, unit, whole }) => ({ label, part, unit, whole }));
    return { rows: table.rows, on: table.on, columns, version };
  }
}

function buffersOf(meshes: readonly PictureMesh[]): ArrayBuffer[] {
  const all = meshes.flatMap((m) => [m.positions, m.normals, m.colours?.data, m.needles?.data]);
  return all.filter((a) => a !== undefined).map((a) => a.buffer as ArrayBuffer);
}

export type StudioApi = Studio;

expose(new Studio());
