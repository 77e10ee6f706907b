/** Numbers of elements, `step` apart: 0 where all have the same. */
export interface LaneView {
  readonly data: Readonly<Float32Array>;
  readonly step: number;
}
