import { ATTRIBUTE_WIDTH, type Attribute } from './attributes.ts';
import { ofTopology } from './derive.ts';
import { edgesOf } from './edges.ts';
import type { Mesh } from './mesh.ts';
import type { Topology } from './topology.ts';

/**
 * Faces turned round: the first corner of each stays first, the others follow in reverse order. Points and faces keep
 * their numbers. Turned twice it is the topology it was.
 */
export const turnTopology = ofTopology((topology: Topology): Topology => {
  if (topology.turnedFrom) return topology.turnedFrom;
  const order = turnedCorners(topology);
  return {
    ...topology,
    id: `${topology.id}-turned`,
    cornerPoints: order.map((c) => topology.cornerPoints[c]),
    turnedFrom: topology,
  };
});

/** The corner that each corner was before its face was turned round; the same way back. */
export const turnedCorners = ofTopology(({ faceStarts, faceCount, cornerCount }: Topology): Int32Array => {
  const order = new Int32Array(cornerCount);
  for (let f = 0; f < faceCount; f++) {
    const start = faceStarts[f];
    const end = faceStarts[f + 1];
    order[start] = start;
    for (let c = start + 1; c < end; c++) order[c] = start + end - c;
  }
  return order;
});

/** The edge that each edge was before the faces were turned round: edges are numbered by corners. */
const turnedEdges = ofTopology((topology: Topology): Int32Array => {
  const order = turnedCorners(topology);
  const before = edgesOf(topology).cornerEdges;
  const { count, cornerEdges } = edgesOf(turnTopology(topology));
  const { faceStarts, faceCount } = topology;
  const out = new Int32Array(count);
  for (let f = 0; f < faceCount; f++) {
    for (let c = faceStarts[f], end = faceStarts[f + 1]; c < end; c++)
      // From a corner to the next is now from what was the next to what was the corner.
      out[cornerEdges[c]] = before[order[c + 1 < end ? c + 1 : faceStarts[f]]];
  }
  return out;
});

/** The same mesh seen from its other side: faces turned round, values of corners and edges with them. */
export function turnFaces(mesh: Mesh): Mesh {
  const attributes = mesh.attributes.map((a): Attribute => {
    if (a.on === 'corner') return { ...a, data: pick(a, turnedCorners(mesh.topology)) };
    return a.on === 'edge' ? { ...a, data: pick(a, turnedEdges(mesh.topology)) } : a;
  });
  return { ...mesh, topology: turnTopology(mesh.topology), attributes };
}

function pick({ data, type }: Attribute, from: Readonly<Int32Array>): Float32Array | Int32Array {
  const width = ATTRIBUTE_WIDTH[type];
  const out = data instanceof Int32Array ? new Int32Array(data.length) : new Float32Array(data.length);
  for (let i = 0; i < from.length; i++) for (let k = 0; k < width; k++) out[i * width + k] = data[from[i] * width + k];
  return out;
}

/** Whether faces of one topology are those of the other, turned round. */
export const isTurned = (a: Topology, b: Topology): boolean =>
  (a.turnedFrom !== undefined || b.turnedFrom !== undefined) && a.id !== b.id && turnTopology(a).id === b.id;
