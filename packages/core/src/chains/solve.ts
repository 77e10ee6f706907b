import { rotationMatrix } from '../maths/aim.ts';
import { identity, matrixAt, multiply, multiplyPacked, type Matrix } from '../maths/matrix.ts';
import { rotationFromQuaternion, type Quaternion } from '../maths/rotation.ts';
import type { Vec3 } from '../maths/vector.ts';
import { halfTurnBetween } from '../maths/blend.ts';
import type { Chain } from './chain.ts';
import { restTurnOf, turnIntoLimit } from './hold-limits.ts';
import { turnOf } from './limits.ts';
import { solveDamped } from './normal-equations.ts';
import { aboutPlace } from './turns.ts';

/** Where a joint should be, and how it should be turned. */
export interface ReachTarget {
  readonly joint: number;
  readonly place: Vec3;
  /** 0 lets it go, 1 pins it; between, it gives way to others. */
  readonly placeWeight: number;
  /** Only the turn of the matrix counts. */
  readonly turn: Readonly<Matrix> | undefined;
  readonly turnWeight: number;
}

export interface SolveOptions {
  /** Joints that may turn. */
  readonly joints: readonly number[];
  readonly targets: readonly ReachTarget[];
  /** Where the middle of the masses should be; of its axes only those that count. */
  readonly centre: { readonly place: Vec3; readonly weight: number; readonly axes: readonly boolean[] } | undefined;
  /**
   * How readily the first of `joints` that hangs under no other is moved as a whole besides turning: 0 not at all. A joint
   * under another stays where its parent puts it.
   */
  readonly rootMoves: number;
  readonly useLimits: boolean;
  readonly rounds: number;
  /** Done when no target is farther off than this, metres. */
  readonly tolerance: number;
}

export interface Solved {
  readonly posed: Float64Array;
  readonly rounds: number;
  /** From each joint to its target, metres; and the angle to its turn, radians. */
  readonly residuals: readonly number[];
  readonly turnResiduals: readonly number[];
  readonly centreResidual: number;
  /** Joints at a limit. */
  readonly held: readonly number[];
}

/**
 * Turns joints so that others come to targets: damped least squares (Wampler 1986; Nakamura and Hanafusa 1986). Each round
 * solves `(J M Jᵀ + λ² I) y = e` for the errors `e` of all targets and turns joint `j` by `M Jᵀ y`, the smallest turn that
 * does it, weighted by how readily each joint turns (1 − stiffness). `λ²` goes with the square of the error (Fan and Yuan
 * 2005), so that far away steps are careful and near the target they are Newton's. Everything but the dimensions of `e` is
 * linear in the joints: the matrix has three rows a target, whatever the chain. Limits are met after every round.
 *
 * It begins from the incoming pose and takes no step by chance, so that the same document and frame give the same pose.
 */
export function solve(chain: Chain, options: SolveOptions): Solved {
  const { targets, centre } = options;
  const worlds = chain.posed.slice();
  const system = new System(chain, options);
  const held = new Set<number>();
  let rounds = 0;
  // The pose it begins with is within the limits too.
  system.hold(worlds, held);
  system.measure(worlds);
  for (; rounds < options.rounds && system.worst > options.tolerance; rounds++) {
    if (!system.step(worlds, held)) break;
    system.measure(worlds);
  }
  return {
    posed: worlds,
    rounds,
    residuals: targets.map((_, t) => system.distances[t]),
    turnResiduals: targets.map((_, t) => system.angles[t]),
    centreResidual: centre ? system.centreDistance : 0,
    held: [...held].sort((a, b) => a - b),
  };
}

/** The pose as it comes in, to the bit. */
export const stay = (chain: Chain, { targets }: SolveOptions): Solved => ({
  posed: chain.posed as Float64Array,
  rounds: 0,
  residuals: targets.map((t) => Math.hypot(...[0, 1, 2].map((k) => t.place[k] - chain.posed[t.joint * 16 + 12 + k]))),
  turnResiduals: targets.map(() => 0),
  centreResidual: 0,
  held: [],
});

/** The turns of all joints from a root down add up to no more than this in a round, radians: beyond it what is linear tells little. */
const LARGEST_TURN = 2;

interface Row {
  readonly kind: 'place' | 'turn' | 'centre';
  readonly target: number;
  readonly weight: number;
}

/** What rounds share: rows of the system, errors, and room to work in. */
class System {
  readonly distances: Float64Array;
  readonly angles: Float64Array;
  centreDistance = 0;
  /** The largest error among pinned ones, metres. */
  worst = 0;
  private readonly rows: readonly Row[];
  private readonly error: Float64Array;
  /** Metres that a radian counts for. */
  private readonly size: number;
  private readonly arm: Float64Array;
  private readonly turns: Float64Array;
  private readonly sums: Float64Array;
  private readonly restTurns: (Quaternion | undefined)[];
  /** The joint that may go along as a whole: of those that may turn, the first that hangs under none. */
  private readonly root: number | undefined;
  private readonly masses: Float64Array;
  private readonly centres: Float64Array;
  private readonly mobility: Float64Array;
  private readonly moved: Float64Array;

  constructor(
    private readonly chain: Chain,
    private readonly o: SolveOptions,
  ) {
    const { count } = chain;
    this.rows = [
      ...o.targets.flatMap((t, target): Row[] => [
        ...(t.placeWeight > 0 ? [{ kind: 'place' as const, target, weight: t.placeWeight }] : []),
        ...(t.turnWeight > 0 && t.turn ? [{ kind: 'turn' as const, target, weight: t.turnWeight }] : []),
      ]),
      ...(o.centre && o.centre.weight > 0 ? [{ kind: 'centre' as const, target: -1, weight: o.centre.weight }] : []),
    ];
    this.distances = new Float64Array(o.targets.length);
    this.angles = new Float64Array(o.targets.length);
    this.error = new Float64Array(this.rows.length * 3);
    this.arm = new Float64Array(this.rows.length * 3);
    this.turns = new Float64Array(count * 3);
    this.sums = new Float64Array(count);
    this.masses = new Float64Array(count);
    this.centres = new Float64Array(count * 3);
    this.moved = new Float64Array(count * 16);
    this.mobility = new Float64Array(count);
    for (const j of o.joints) this.mobility[j] = Math.max(0, 1 - chain.traits[j].stiffness) ** 2;
    this.size = extent(chain);
    this.root = o.joints.find((j) => chain.parents[j] < 0);
    // A joint that may not turn is not turned into its limit either.
    this.restTurns = new Array<Quaternion | undefined>(count);
    if (o.useLimits) for (const j of o.joints) this.restTurns[j] = restTurnOf(chain, j);
    // Masses of all that moves with a joint.
    for (let j = count - 1; j >= 0; j--) {
      this.masses[j] += chain.traits[j].mass;
      if (chain.parents[j] >= 0) this.masses[chain.parents[j]] += this.masses[j];
    }
  }

  /** Holds all joints within their limits as they are. */
  hold(worlds: Float64Array, held: Set<number>): void {
    this.turns.fill(0);
    if (this.restTurns.some((r) => r)) this.apply(worlds, 1, [0, 0, 0], held);
  }

  /** Errors at a pose. */
  measure(worlds: Readonly<Float64Array>): void {
    const { o, error, rows, size } = this;
    this.worst = 0;
    if (o.centre) this.weighCentres(worlds);
    o.targets.forEach((t, i) => {
      const d = [0, 1, 2].map((k) => t.place[k] - worlds[t.joint * 16 + 12 + k]);
      this.distances[i] = Math.hypot(d[0], d[1], d[2]);
      if (t.placeWeight > 0) this.worst = Math.max(this.worst, this.distances[i] * Math.min(1, t.placeWeight));
    });
    rows.forEach(({ kind, target, weight }, r) => {
      if (kind === 'place') {
        const t = o.targets[target];
        for (let k = 0; k < 3; k++) error[r * 3 + k] = weight * (t.place[k] - worlds[t.joint * 16 + 12 + k]);
      } else if (kind === 'turn') {
        const t = o.targets[target];
        const half = halfTurnBetween(turnOf(matrixAt(worlds, t.joint)), turnOf(t.turn as Matrix));
        this.angles[target] = 2 * Math.hypot(half[0], half[1], half[2]);
        this.worst = Math.max(this.worst, this.angles[target] * size * Math.min(1, weight));
        for (let k = 0; k < 3; k++) error[r * 3 + k] = weight * size * 2 * half[k];
      } else {
        const c = o.centre as NonNullable<SolveOptions['centre']>;
        let sum = 0;
        for (let k = 0; k < 3; k++) {
          const e = c.axes[k] ? c.place[k] - this.centreOf(k) : 0;
          sum += e * e;
          error[r * 3 + k] = weight * e;
        }
        this.centreDistance = Math.sqrt(sum);
        this.worst = Math.max(this.worst, this.centreDistance * Math.min(1, weight));
      }
    });
  }

  private centreOf(axis: number): number {
    let sum = 0;
    let mass = 0;
    for (let j = 0; j < this.chain.count; j++) {
      if (this.chain.parents[j] >= 0) continue;
      sum += this.centres[j * 3 + axis];
      mass += this.masses[j];
    }
    return mass > 0 ? sum / mass : 0;
  }

  /** Mass times place of all that moves with each joint. */
  private weighCentres(worlds: Readonly<Float64Array>): void {
    const { chain, centres } = this;
    centres.fill(0);
    for (let j = chain.count - 1; j >= 0; j--) {
      const p = chain.parents[j];
      for (let k = 0; k < 3; k++) {
        centres[j * 3 + k] += chain.traits[j].mass * worlds[j * 16 + 12 + k];
        if (p >= 0) centres[p * 3 + k] += centres[j * 3 + k];
      }
    }
  }

  /** What a joint's turn moves of a row, as an arm: the row's error changes by `turn × arm`. False where it moves nothing. */
  private armOf(row: Row, r: number, joint: number, worlds: Readonly<Float64Array>): boolean {
    const { arm, chain } = this;
    const at = joint * 16 + 12;
    if (row.kind === 'centre') {
      const total = this.totalMass();
      for (let k = 0; k < 3; k++)
        arm[r * 3 + k] = (row.weight * (this.centres[joint * 3 + k] - this.masses[joint] * worlds[at + k])) / total;
      return total > 0;
    }
    const moving = this.o.targets[row.target].joint;
    if (moving < joint || moving >= chain.ends[joint]) return false;
    if (row.kind === 'turn') return true;
    for (let k = 0; k < 3; k++) arm[r * 3 + k] = row.weight * (worlds[moving * 16 + 12 + k] - worlds[at + k]);
    return true;
  }

  private totalMass(): number {
    let sum = 0;
    for (let j = 0; j < this.chain.count; j++) if (this.chain.parents[j] < 0) sum += this.masses[j];
    return sum;
  }

  /** One round. False where nothing can be done. */
  step(worlds: Float64Array, held: Set<number>): boolean {
    const { chain, o, rows, error, arm, turns, sums, mobility, size } = this;
    const n = rows.length * 3;
    if (n === 0) return false;
    const A = new Float64Array(n * n);
    const touches: number[] = [];
    for (const j of o.joints) {
      const m = mobility[j];
      if (m === 0) continue;
      touches.length = 0;
      for (let r = 0; r < rows.length; r++) if (this.armOf(rows[r], r, j, worlds)) touches.push(r);
      for (const r of touches) for (const s of touches) if (s <= r) this.addBlock(A, n, r, s, m);
    }
    const slide = o.rootMoves > 0 && this.root !== undefined ? o.rootMoves ** 2 * size * size : 0;
    if (slide > 0) this.addSlide(A, n, slide / (size * size));
    let squared = 0;
    for (let i = 0; i < n; i++) squared += error[i] * error[i];
    // Damping by the error, by and by less; the share of the diagonal keeps what cannot be solved from breaking it.
    const y = solveDamped(A, n, error, DAMPING * squared + 1e-12 * size * size);
    if (!y) return false;
    let largest = 0;
    turns.fill(0);
    sums.fill(0);
    for (const j of o.joints) {
      const m = mobility[j];
      if (m === 0) continue;
      let [x, yy, z] = [0, 0, 0];
      for (let r = 0; r < rows.length; r++) {
        if (!this.armOf(rows[r], r, j, worlds)) continue;
        const [a, b, c] = [y[r * 3], y[r * 3 + 1], y[r * 3 + 2]];
        if (rows[r].kind === 'turn') {
          const w = rows[r].weight * size;
          x += w * a;
          yy += w * b;
          z += w * c;
        } else {
          x += arm[r * 3 + 1] * c - arm[r * 3 + 2] * b;
          yy += arm[r * 3 + 2] * a - arm[r * 3] * c;
          z += arm[r * 3] * b - arm[r * 3 + 1] * a;
        }
      }
      turns[j * 3] = m * x;
      turns[j * 3 + 1] = m * yy;
      turns[j * 3 + 2] = m * z;
      sums[j] = m * Math.hypot(x, yy, z);
    }
    for (let j = 0; j < chain.count; j++) {
      if (chain.parents[j] >= 0) sums[j] += sums[chain.parents[j]];
      if (!(sums[j] <= largest)) largest = sums[j];
    }
    if (!(largest - largest === 0)) return false;
    const share = largest > LARGEST_TURN ? LARGEST_TURN / largest : 1;
    const move = [0, 0, 0];
    if (slide > 0)
      rows.forEach((row, r) => {
        if (row.kind !== 'turn')
          for (let k = 0; k < 3; k++) move[k] += (slide / (size * size)) * row.weight * y[r * 3 + k] * share;
      });
    this.apply(worlds, share, move, held);
    return true;
  }

  /** Adds `m · J_r J_sᵀ` of one joint: `(r·s) I − s rᵀ` of two arms. */
  private addBlock(A: Float64Array, n: number, r: number, s: number, m: number): void {
    const { rows, arm, size } = this;
    const [isTurnR, isTurnS] = [rows[r].kind === 'turn', rows[s].kind === 'turn'];
    const [i, j] = [r * 3, s * 3];
    if (isTurnR && isTurnS) {
      const w = m * size * size * rows[r].weight * rows[s].weight;
      for (let k = 0; k < 3; k++) A[(i + k) * n + j + k] += w;
      return;
    }
    if (isTurnR || isTurnS) {
      // `−[a]×` for a place against a turn, its transpose the other way round.
      const at = isTurnS ? i : j;
      const w = m * size * rows[isTurnS ? s : r].weight * (isTurnS ? 1 : -1);
      const [a, b, c] = [arm[at], arm[at + 1], arm[at + 2]];
      A[i * n + j + 1] += w * c;
      A[i * n + j + 2] -= w * b;
      A[(i + 1) * n + j] -= w * c;
      A[(i + 1) * n + j + 2] += w * a;
      A[(i + 2) * n + j] += w * b;
      A[(i + 2) * n + j + 1] -= w * a;
      return;
    }
    const d = m * (arm[i] * arm[j] + arm[i + 1] * arm[j + 1] + arm[i + 2] * arm[j + 2]);
    for (let p = 0; p < 3; p++)
      for (let q = 0; q < 3; q++) A[(i + p) * n + j + q] += (p === q ? d : 0) - m * arm[j + p] * arm[i + q];
  }

  /** The root as a whole moves all places alike. */
  private addSlide(A: Float64Array, n: number, mobility: number): void {
    const { rows } = this;
    for (let r = 0; r < rows.length; r++) {
      if (rows[r].kind === 'turn') continue;
      for (let s = 0; s <= r; s++) {
        if (rows[s].kind === 'turn') continue;
        const w = mobility * rows[r].weight * rows[s].weight;
        for (let k = 0; k < 3; k++) A[(r * 3 + k) * n + s * 3 + k] += w;
      }
    }
  }

  /** Turns all joints at once, from the root down, and holds them within their limits. */
  private apply(worlds: Float64Array, share: number, slide: readonly number[], held: Set<number>): void {
    const { chain, turns, moved, restTurns } = this;
    const { parents } = chain;
    held.clear();
    const by = identity();
    const { root } = this;
    for (let j = 0; j < chain.count; j++) {
      const p = parents[j];
      const above = p < 0 ? IDENTITY : matrixAt(moved, p);
      const [x, y, z] = [turns[j * 3] * share, turns[j * 3 + 1] * share, turns[j * 3 + 2] * share];
      const mine = matrixAt(moved, j);
      const angle = Math.hypot(x, y, z);
      if (angle > 0) {
        const s = Math.sin(angle / 2) / angle;
        by.set(rotationMatrix(rotationFromQuaternion([x * s, y * s, z * s, Math.cos(angle / 2)])));
        aboutPlace(by, [worlds[j * 16 + 12], worlds[j * 16 + 13], worlds[j * 16 + 14]]);
        multiply(mine, above, by);
      } else mine.set(above);
      if (j === root) for (let k = 0; k < 3; k++) mine[12 + k] += slide[k];
      multiplyPacked(worlds, j * 16, mine, 0, 0, worlds, j * 16, 16, 1);
      const rest = restTurns[j];
      const fix = rest && turnIntoLimit(chain, worlds, j, rest);
      if (!fix) continue;
      held.add(j);
      multiply(mine, fix, mine);
      multiplyPacked(worlds, j * 16, fix, 0, 0, worlds, j * 16, 16, 1);
    }
  }
}

const IDENTITY: Readonly<Matrix> = identity();
/** Of the squared error. Tried from 0.02 to 1 with sums of turns of 1 to 3 on random targets: these two reach most, soonest. */
const DAMPING = 0.2;

/** How large a chain is: the sum of the bones of its longest way down, at least a millionth of a metre. */
export function extent({ count, parents, posed }: Chain): number {
  const way = new Float64Array(count);
  let most = 1e-6;
  for (let j = 0; j < count; j++) {
    const p = parents[j];
    if (p >= 0) way[j] = way[p] + Math.hypot(...[12, 13, 14].map((k) => posed[j * 16 + k] - posed[p * 16 + k]));
    if (way[j] > most) most = way[j];
  }
  return most;
}
