import { CatmullRomCurve3, Curve, Vector3 } from 'three';
import { framesOf, makeCurves, emptyPlace, placeInto, smoothHandles, tracksOf, type Track } from '@umberfish/core';
import { compare, sink, type Trial } from '../measure.ts';

const POINTS = 63;

/** A curve in space of about a thousand samples. */
function spine() {
  const places = Array.from({ length: POINTS }, (_, i) => {
    const a = (i / (POINTS - 1)) * 4 * Math.PI;
    return [Math.cos(a) * (2 + 0.3 * Math.sin(3 * a)), 0.4 * a, Math.sin(a) * (2 + 0.3 * Math.cos(2 * a))];
  });
  return {
    places,
    curves: smoothHandles(makeCurves([{ type: 'bezier', closed: false, positions: places.flat() }])),
  };
}

/** Frames with lengths beside three's. */
export function curvesSuite(): Trial[] {
  const { places, curves } = spine();
  const track = tracksOf(curves)[0];
  const { count } = track;
  const theirs = new CatmullRomCurve3(places.map(([x, y, z]) => new Vector3(x, y, z)));
  theirs.arcLengthDivisions = count - 1;
  const at = new Vector3();
  const place = emptyPlace();
  // A new object each time, so that nothing kept helps.
  const frameWork = () => {
    const fresh = tracksOf({ ...curves })[0];
    const made = framesOf(fresh, { by: 'least', up: [0, 1, 0] });
    let sum = made.normals[5];
    for (let i = 0; i < count; i++) sum += placeInto(place, fresh, (fresh.length * i) / (count - 1)).position[0];
    sink.value += sum;
  };
  const theirWork = () => {
    theirs.updateArcLengths();
    const made = theirs.computeFrenetFrames(count - 1, false);
    let sum = made.normals[1].x;
    for (let i = 0; i < count; i++) sum += theirs.getPointAt(i / (count - 1), at).x;
    sink.value += sum;
  };
  return [
    compare(
      `frames and lengths of ${count} samples, and ${count} places by length, beside three's`,
      frameWork,
      theirWork,
      'higher',
      10,
      30,
    ),
  ];
}

/** A helix, whose least-turning frames are known: against its own normal they turn by torsion × length. */
class Helix extends Curve<Vector3> {
  // The base class hides its constructor.
  constructor() {
    super();
  }

  override getPoint(t: number, out = new Vector3()): Vector3 {
    const a = t * TURNS * 2 * Math.PI;
    return out.set(Math.cos(a), RISE * a, Math.sin(a));
  }
  override getTangent(t: number, out = new Vector3()): Vector3 {
    const a = t * TURNS * 2 * Math.PI;
    return out.set(-Math.sin(a), RISE, Math.cos(a)).normalize();
  }
}
const TURNS = 4;
const RISE = 0.3;

/** Degrees by which the last frame of a helix of 1000 samples is wrong: ours and three's, from its exact tangents. */
export function frameTwist(): { ours: number; theirs: number } {
  const count = 1000;
  const helix = new Helix();
  const made = helix.computeFrenetFrames(count - 1, false);
  const samples = (of: (t: number) => Vector3) =>
    Float64Array.from({ length: count * 3 }, (_, i) => of(Math.floor(i / 3) / (count - 1)).getComponent(i % 3));
  const step = Math.sqrt(1 + RISE * RISE) * TURNS * 2 * Math.PI;
  const track: Track = {
    count,
    closed: false,
    first: 0,
    knots: Int32Array.of(0, count - 1),
    corners: undefined,
    length: step,
    positions: samples((t) => helix.getPoint(t)),
    tangents: samples((t) => helix.getTangent(t)),
    lengths: Float64Array.from({ length: count }, (_, i) => (step * i) / (count - 1)),
    roll: new Float64Array(count),
    width: new Float64Array(count).fill(1),
    guide: Int32Array.of(0),
  };
  const { normals } = framesOf(track, { by: 'least', up: [0, 1, 0] });
  const torsion = RISE / (1 + RISE * RISE);
  // The angle of a normal from the one that points at the axis, about the tangent.
  const angle = (n: Vector3, t: number) => {
    const inwards = helix.getPoint(t).setY(0).negate();
    return Math.atan2(n.dot(helix.getTangent(t).cross(inwards)), n.dot(inwards));
  };
  const miss = (first: Vector3, last: Vector3) => {
    const turned = angle(last, 1) - angle(first, 0);
    const off = [1, -1].map((s) =>
      Math.abs(Math.atan2(Math.sin(turned + s * torsion * step), Math.cos(turned + s * torsion * step))),
    );
    return (Math.min(...off) * 180) / Math.PI;
  };
  const ours = (i: number) => new Vector3(normals[i * 3], normals[i * 3 + 1], normals[i * 3 + 2]);
  return { ours: miss(ours(0), ours(count - 1)), theirs: miss(made.normals[0], made.normals[count - 1]) };
}
