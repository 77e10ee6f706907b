import type { Curves } from '../../curves/curves.ts';
import type { Falloff } from '../../falloffs/falloff.ts';
import type { Mesh } from '../../geometry/mesh.ts';
import type { Value } from '../node/values.ts';

/** Adds the memory of all arrays that a value reads, its own and those it refers to. */
export function addBuffers(buffers: Set<ArrayBufferLike>, v: Value): void {
  const addMesh = ({ positions, topology, attributes }: Mesh) => {
    buffers.add(positions.buffer).add(topology.cornerPoints.buffer).add(topology.sourcePositions.buffer);
    for (const a of attributes) buffers.add(a.data.buffer);
  };
  const addCurves = ({ positions, handles, roll, width }: Curves) => {
    for (const a of [positions, handles, roll, width]) buffers.add(a.buffer);
  };
  const addFalloff = (f: Falloff): void => {
    if (f.type === 'surface' || f.type === 'attribute') addMesh(f.mesh);
    if (f.type === 'attribute') buffers.add(f.values.buffer);
    if (f.type === 'curve') addCurves(f.curves);
    if (f.type === 'reshaped') addFalloff(f.of);
    if (f.type === 'mix') for (const part of [f.base, ...f.parts.map((p) => p.falloff)]) addFalloff(part);
  };
  if (v.form === 'column' || v.form === 'matrices') buffers.add(v.data.buffer);
  else if (v.form === 'geometry') addMesh(v.mesh);
  else if (v.form === 'falloff') addFalloff(v.falloff);
  else if (v.form === 'curves') addCurves(v.curves);
  else if (v.form === 'chain') buffers.add(v.chain.posed.buffer).add(v.chain.rest.buffer);
  else if (v.form === 'copies') {
    buffers.add(v.copies.matrices.buffer).add(v.copies.which.buffer);
    for (const a of v.copies.attributes) buffers.add(a.data.buffer);
    for (const source of v.copies.sources) addMesh(source);
  }
}
