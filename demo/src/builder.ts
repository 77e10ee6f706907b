import { edgesOf, makeMesh, makeTopology, type Attribute, type Material, type Mesh, type Vec3 } from '@umberfish/core';

/** Collects points and faces with materials and groups into one mesh. */
export class MeshBuilder {
  private readonly positions: number[] = [];
  private readonly starts = [0];
  private readonly corners: number[] = [];
  private readonly faceMaterials: number[] = [];
  private readonly faceGroups: number[] = [];
  private readonly flat: number[] = [];
  private readonly groups: string[] = [];
  private group = 0;

  constructor(private readonly materials: readonly Material[]) {}

  /** Faces from now on belong to this group. */
  beginGroup(name: string): void {
    const found = this.groups.indexOf(name);
    this.group = found >= 0 ? found : this.groups.push(name) - 1;
  }

  /** Adds a point and gives its index. */
  point(p: Vec3): number {
    return this.positions.push(...p) / 3 - 1;
  }

  /** Adds a face; `flat` breaks the shading along its edges. */
  face(points: readonly number[], material: string, flat = false): void {
    this.corners.push(...points);
    this.starts.push(this.corners.length);
    this.faceMaterials.push(this.materials.findIndex((m) => m.name === material));
    this.faceGroups.push(this.group);
    this.flat.push(flat ? 1 : 0);
  }

  /** Adds a grid of points and its quads; rows may close on themselves. */
  sheet(
    rows: number,
    columns: number,
    at: (row: number, column: number) => Vec3,
    material: (row: number, column: number) => string,
    closed: boolean,
  ): number[][] {
    const points = Array.from({ length: rows }, (_, r) => Array.from({ length: columns }, (_c, c) => this.point(at(r, c))));
    for (let r = 0; r + 1 < rows; r++) {
      for (let c = 0; c < (closed ? columns : columns - 1); c++) {
        const d = (c + 1) % columns;
        this.face([points[r][c], points[r + 1][c], points[r + 1][d], points[r][d]], material(r, c));
      }
    }
    return points;
  }

  done(): Mesh {
    const positions = Float32Array.from(this.positions);
    const starts = Int32Array.from(this.starts);
    const corners = Int32Array.from(this.corners);
    const attributes: Attribute[] = [
      {
        name: 'material',
        on: 'face',
        type: 'integer',
        role: 'plain',
        data: Int32Array.from(this.faceMaterials),
      },
      { name: 'group', on: 'face', type: 'integer', role: 'plain', data: Int32Array.from(this.faceGroups) },
    ];
    if (this.flat.some((f) => f)) {
      const { count, cornerEdges } = edgesOf(makeTopology(starts, corners, positions));
      const hard = new Int32Array(count);
      this.flat.forEach((f, face) => {
        if (f) for (let c = starts[face]; c < starts[face + 1]; c++) hard[cornerEdges[c]] = 1;
      });
      attributes.push({ name: 'hard', on: 'edge', type: 'toggle', role: 'plain', data: hard });
    }
    return makeMesh(positions, starts, corners, {
      attributes,
      materials: this.materials,
      groups: this.groups,
    });
  }
}
