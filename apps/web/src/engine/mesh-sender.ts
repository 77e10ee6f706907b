import type { Mesh } from '@umberfish/core';
import { makePictureTopology, pictureTopologyId } from './picture.ts';
import { liesByUv, pictureVertices, vertexNormals, vertexPositions, type PictureVertices } from './picture-vertices.ts';
import type { PictureMesh, PictureRequest } from './protocol.ts';
import { floats, shares } from './shared-memory.ts';

/** Makes what is sent of meshes: what the page already has is left out. */
export class MeshSender {
  private readonly topologies = new Set<string>();
  private readonly positions = new Map<string, Readonly<Float32Array>>();
  private readonly normals = new WeakMap<Readonly<Float32Array>, { topology: string; normals: Float32Array }>();
  private sent: (() => void)[] = [];

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
    if (this.positions.get(identity) === mesh.positions && !topology) return { key, topologyId };
    const normals = this.normalsOf(mesh, vertices, topologyId, checkpoint);
    const positions = vertexPositions(mesh, vertices, floats);
    // Without shared memory the arrays are given away, so what is kept must be a copy.
    const given = !shares && positions === mesh.positions ? positions.slice() : positions;
    this.sent.push(() => {
      this.topologies.add(topologyId);
      for (const known of this.positions.keys()) if (known.startsWith(`${key} `)) this.positions.delete(known);
      this.positions.set(identity, mesh.positions);
    });
    return { key, topologyId, topology, positions: given, normals };
  }

  /** Normals of what is kept are kept with it, so that a kept range plays at once. */
  private normalsOf(mesh: Mesh, vertices: PictureVertices, topology: string, checkpoint: () => void): Float32Array {
    const known = shares ? this.normals.get(mesh.positions) : undefined;
    if (known?.topology === topology) return known.normals;
    const normals = vertexNormals(mesh, vertices, floats, checkpoint);
    if (shares) this.normals.set(mesh.positions, { topology, normals });
    return normals;
  }
}
