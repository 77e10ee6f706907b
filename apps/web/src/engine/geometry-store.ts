import { NOTHING_DRIVEN } from '@umberfish/core';
import type { Picture, PictureLines, PictureMesh, PictureTopology, TableHeader } from './protocol.ts';

/** A geometry ready to be drawn. */
export interface DrawnMesh {
  readonly key: string;
  readonly topology: PictureTopology;
  readonly positions: Float32Array;
  readonly normals: Float32Array;
  readonly colours?: PictureMesh['colours'];
  readonly needles?: PictureMesh['needles'];
  readonly instances?: PictureMesh['instances'];
}

export interface DrawnPicture {
  readonly request: number;
  readonly frame: number;
  readonly meshes: ReadonlyMap<string, DrawnMesh>;
  readonly lines: readonly PictureLines[];
  readonly ghosts: Picture['ghosts'];
  readonly driven: Picture['driven'];
  readonly painted: Picture['painted'];
  readonly table: TableHeader | null;
}

const EMPTY: DrawnPicture = {
  request: 0,
  frame: 0,
  meshes: new Map(),
  lines: [],
  ghosts: [],
  driven: NOTHING_DRIVEN,
  painted: new Map(),
  table: null,
};

/**
 * The geometry on the stage, outside the Redux store. Parts that a picture leaves out, because nothing changed,
 * are taken from what was known.
 */
export class GeometryStore {
  private picture = EMPTY;
  private readonly topologies = new Map<string, PictureTopology>();
  private readonly known = new Map<string, DrawnMesh>();
  private readonly listeners = new Set<() => void>();
  /** Topologies that ever came; steady dragging must not raise it. */
  topologiesReceived = 0;
  /** Memory that results have taken; nor this, after a few pictures. */
  takenBytes = 0;

  readonly get = (): DrawnPicture => this.picture;

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** Forgets what a worker that is gone had sent; the picture stays until the next one. */
  forget(): void {
    this.topologies.clear();
    this.known.clear();
  }

  clear(): void {
    this.forget();
    this.set(EMPTY);
  }

  accept(picture: Picture): void {
    this.takenBytes = picture.takenBytes;
    const meshes = new Map<string, DrawnMesh>();
    for (const m of picture.meshes) {
      if (m.topology) {
        this.topologies.set(m.topologyId, m.topology);
        this.topologiesReceived++;
      }
      const topology = this.topologies.get(m.topologyId);
      const before = this.known.get(m.key);
      const positions = m.positions ?? before?.positions;
      const normals = m.normals ?? before?.normals;
      if (!topology || !positions || !normals) continue;
      const same =
        before &&
        before.topology === topology &&
        before.positions === positions &&
        before.colours === m.colours &&
        before.needles === m.needles &&
        before.instances === m.instances;
      const drawn = same
        ? before
        : {
            key: m.key,
            topology,
            positions,
            normals,
            colours: m.colours,
            needles: m.needles,
            instances: m.instances,
          };
      this.known.set(m.key, drawn);
      meshes.set(m.key, drawn);
    }
    this.set({
      request: picture.id,
      frame: picture.frame,
      meshes,
      lines: picture.lines,
      ghosts: picture.ghosts,
      driven: picture.driven,
      painted: picture.painted,
      table: picture.table,
    });
  }

  private set(picture: DrawnPicture): void {
    this.picture = picture;
    for (const listener of this.listeners) listener();
  }
}
