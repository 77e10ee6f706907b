import { findAttribute, SHADE_NORMAL, type ArrayRoom, type Mesh } from '@umberfish/core';
import { makePictureTopology, pictureTopologyId } from './picture.ts';
import { liesByUv, pictureVertices, vertexNormals, vertexPositions } from './picture-vertices.ts';
import type { PictureMesh, PictureRequest } from './protocol.ts';

/** What a picture is made of besides its topology. */
interface Shape {
  readonly positions: Readonly<Float32Array>;
  /** Normals it is shaded with, where it brings its own. */
  readonly shade: Readonly<Float32Array | Int32Array> | undefined;
}

const shapeOf = (mesh: Mesh): Shape => ({
  positions: mesh.positions,
  shade: findAttribute(mesh, SHADE_NORMAL, 'point')?.data,
});

/** What the graphics card takes of a mesh, and which arrays were made for it. */
interface Made {
  readonly topology: string;
  readonly shade: Shape['shade'];
  readonly positions: Float32Array;
  readonly normals: Float32Array;
  readonly arrays: readonly Float32Array[];
}

/** Makes what is sent of meshes: what the page already has is left out. */
export class MeshSender {
  private readonly topologies = new Set<string>();
  private readonly shapes = new Map<string, Shape>();
  /** Kept with what it was made of, so that a kept range plays at once. */
  private readonly made = new WeakMap<Readonly<Float32Array>, Made[]>();
  private sent: (() => void)[] = [];

  /**
   * @param room where arrays lie that are shared with the page
   * @param shares whether arrays are shared; otherwise they are given away
   */
  constructor(
    private readonly room: ArrayRoom,
    private readonly shares: boolean,
  ) {}

  /** Begins a picture. Only one that leaves counts as sent; one that is stopped half way does not. */
  begin(): void {
    this.sent = [];
  }

  /** Tells that the picture left. */
  commit(): void {
    for (const commit of this.sent) commit();
  }

  /** Positions are no more: what was made of them is let go too. */
  letGo(gone: readonly Readonly<Float32Array>[]): void {
    for (const positions of gone) {
      for (const { arrays } of this.made.get(positions) ?? []) for (const { buffer } of arrays) this.room.takeBack(buffer);
      this.made.delete(positions);
    }
  }

  meshFor(request: PictureRequest, key: string, mesh: Mesh, checkpoint: () => void): PictureMesh {
    const byUv = liesByUv(request, mesh);
    const topologyId = pictureTopologyId(mesh, byUv);
    const vertices = pictureVertices(mesh, byUv);
    const topology = this.topologies.has(topologyId) ? undefined : makePictureTopology(mesh, topologyId, vertices);
    const identity = `${key} ${topologyId}`;
    const shape = shapeOf(mesh);
    const last = this.shapes.get(identity);
    if (!topology && last?.positions === shape.positions && last.shade === shape.shade) return { key, topologyId };
    const { positions, normals } = this.arraysOf(mesh, byUv, topologyId, checkpoint);
    this.sent.push(() => {
      this.topologies.add(topologyId);
      for (const known of this.shapes.keys()) if (known.startsWith(`${key} `)) this.shapes.delete(known);
      this.shapes.set(identity, shape);
    });
    return { key, topologyId, topology, positions, normals };
  }

  private arraysOf(mesh: Mesh, byUv: boolean, topology: string, checkpoint: () => void): Pick<Made, 'positions' | 'normals'> {
    const vertices = pictureVertices(mesh, byUv);
    if (!this.shares) {
      // Arrays are given away: of what is kept here a copy is.
      const floats = (count: number) => new Float32Array(count);
      const kept = new Set<unknown>([mesh.positions, ...mesh.attributes.map((a) => a.data)]);
      const given = (array: Float32Array) => (kept.has(array) ? array.slice() : array);
      return {
        positions: given(vertexPositions(mesh, vertices, floats)),
        normals: given(vertexNormals(mesh, vertices, floats, checkpoint)),
      };
    }
    const { shade } = shapeOf(mesh);
    let all = this.made.get(mesh.positions);
    if (!all) this.made.set(mesh.positions, (all = []));
    let made = all.find((m) => m.topology === topology && m.shade === shade);
    if (!made) {
      const arrays: Float32Array[] = [];
      const room = (count: number) => {
        const array = this.room.room(count);
        arrays.push(array);
        return array;
      };
      const positions = vertexPositions(mesh, vertices, room);
      made = { topology, shade, positions, normals: vertexNormals(mesh, vertices, room, checkpoint), arrays };
      all.push(made);
    }
    return made;
  }
}
