/** Points that go through each step together. */
export const CHUNK = 512;

/** What the steps hand on of each point of a chunk. */
export const lanes = {
  /** Metres along the mesh's axis; then along the curve, of now at last. */
  along: new Float64Array(CHUNK),
  /** The share of the mesh's length, where it is asked for. */
  share: new Float64Array(CHUNK),
  /** The place against the frame: along the tangent, the normal and the binormal. */
  tangent: new Float64Array(CHUNK),
  normal: new Float64Array(CHUNK),
  binormal: new Float64Array(CHUNK),
  /** Width and turn of the section at rest. */
  restWidth: new Float64Array(CHUNK),
  restTurn: new Float64Array(CHUNK),
  /** The sample before it on the curve of now, and which part of the way to the next. */
  sample: new Int32Array(CHUNK),
  part: new Float64Array(CHUNK),
};
