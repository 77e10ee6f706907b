import { ATTRIBUTE_WIDTH, type Attribute } from './attributes.ts';
import { edgesOf } from './edges.ts';
import { freeMaterialName, materialKey, type Material } from './materials.ts';
import { elementCount, makeMesh, type Mesh } from './mesh.ts';

/**
 * Several meshes as one: points, then faces, in the order given. Attributes of the same name, place and type are
 * joined; where a mesh lacks one, its elements get 0. Equal materials become one, as do groups of the same name.
 */
export function mergeMeshes(meshes: readonly Mesh[]): Mesh {
  const positions = new Float32Array(sum(meshes, (m) => m.positions.length));
  const starts = new Int32Array(sum(meshes, (m) => m.topology.faceCount) + 1);
  const corners = new Int32Array(sum(meshes, (m) => m.topology.cornerCount));
  let point = 0,
    face = 0,
    corner = 0;
  for (const { topology: t, positions: p } of meshes) {
    positions.set(p, point * 3);
    for (let f = 0; f < t.faceCount; f++) starts[face + f + 1] = corner + t.faceStarts[f + 1];
    for (let c = 0; c < t.cornerCount; c++) corners[corner + c] = point + t.cornerPoints[c];
    point += t.pointCount;
    face += t.faceCount;
    corner += t.cornerCount;
  }
  const materials = jointMaterials(meshes);
  const groups = [...new Set(meshes.flatMap((m) => m.groups))];
  const renumbered = meshes.map((m) => renumber(m, [...materials.keys()], groups));
  return makeMesh(positions, starts, corners, {
    attributes: joinAttributes(renumbered),
    materials: [...materials.values()],
    groups,
  });
}

/** All materials, each once, by what tells them apart; others of a name that is taken get a number after it. */
function jointMaterials(meshes: readonly Mesh[]): ReadonlyMap<string, Material> {
  const joint = new Map<string, Material>();
  const names = new Set<string>();
  for (const m of meshes.flatMap((mesh) => mesh.materials)) {
    if (joint.has(materialKey(m))) continue;
    const name = freeMaterialName(m.name, (n) => names.has(n));
    names.add(name);
    joint.set(materialKey(m), name === m.name ? m : { ...m, name });
  }
  return joint;
}

const sum = <T>(list: readonly T[], of: (item: T) => number) => list.reduce((n, item) => n + of(item), 0);

/** The indices of `material` and `group` put into the joint lists of names. */
function renumber(mesh: Mesh, materials: readonly string[], groups: readonly string[]): Mesh {
  const into = (a: Attribute, old: readonly string[], all: readonly string[]): Attribute => {
    const joint = old.map((key) => all.indexOf(key));
    return { ...a, data: Int32Array.from(a.data, (i) => joint[i] ?? -1) };
  };
  const attributes = mesh.attributes.map((a) => {
    if (a.on === 'face' && a.name === 'material') return into(a, mesh.materials.map(materialKey), materials);
    return a.on === 'face' && a.name === 'group' ? into(a, mesh.groups, groups) : a;
  });
  return { ...mesh, attributes };
}

function joinAttributes(meshes: readonly Mesh[]): Attribute[] {
  const key = (a: Attribute) => `${a.name}/${a.on}/${a.type}`;
  const kinds = new Map(meshes.flatMap((m) => m.attributes).map((a) => [key(a), a]));
  return [...kinds.values()].map((kind) => {
    const width = ATTRIBUTE_WIDTH[kind.type];
    const total = sum(meshes, (m) => elementCount(m.topology, kind.on)) * width;
    const data = kind.data instanceof Int32Array ? new Int32Array(total) : new Float32Array(total);
    let at = 0;
    for (const m of meshes) {
      const own = m.attributes.find((a) => key(a) === key(kind));
      // Edges are numbered by first use in corner order, so those of joined meshes follow one another.
      if (own) data.set(own.data, at);
      at += (kind.on === 'edge' ? edgesOf(m.topology).count : elementCount(m.topology, kind.on)) * width;
    }
    return { ...kind, data };
  });
}
