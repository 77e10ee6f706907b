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

/** Makes what is sent of meshes: what the page already has is left out. */
export class MeshSender {
  private readonly topologies = new Set<string>();
  private readonly shapes = new Map<string, Shape>();
  private sent: (() => void)[] = [];

  /**
   * @param room where arrays lie that are shared with the page
   * @param shares whether arrays are shared; otherwise copies are given away
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

  meshFor(request: PictureRequest, key: string, mesh: Mesh, checkpoint: () => void): PictureMesh {
    const byUv = liesByUv(request, mesh);
    const topologyId = pictureTopologyId(mesh, byUv);
    const vertices = pictureVertices(mesh, byUv);
    const topology = this.topologies.has(topologyId) ? undefined : makePictureTopology(mesh, topologyId, vertices);
    const identity = `${key} ${topologyId}`;
    const shape = shapeOf(mesh);
    const last = this.shapes.get(identity);
    if (!topology && last?.positions === shape.positions && last.shade === shape.shade) return { key, topologyId };
    const { positions, normals } = this.arraysOf(mesh, byUv, checkpoint);
    this.sent.push(() => {
      this.topologies.add(topologyId);
      for (const known of this.shapes.keys()) if (known.startsWith(`${key} `)) this.shapes.delete(known);
      this.shapes.set(identity, shape);
    });
    return { key, topologyId, topology, positions, normals };
  }

  private arraysOf(mesh: Mesh, byUv: boolean, checkpoint: () => void): Pick<PictureMesh, 'positions' | 'normals'> {
    const vertices = pictureVertices(mesh, byUv);
    const room = (count: number) => this.room.room(count);
    const sent = (array: Readonly<Float32Array>) => (this.shares ? array : array.slice()) as Float32Array;
    return {
      positions: sent(vertexPositions(mesh, vertices, room)),
      normals: sent(vertexNormals(mesh, vertices, room, checkpoint)),
    };
  }
}
