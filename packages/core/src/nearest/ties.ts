const ROOM = 32;

/** Of the size of the numbers that a distance is made of: more than rounding can make of it. */
export const ROUNDING = 2 ** -49;

/**
 * Primitives that a query has met and that may turn out to be as near as the nearest. The place where several touch has
 * from each of them a distance of its own in the last bits; neither these nor the order of a search may decide, but the
 * lowest number of all that are as near. Queries write into it themselves: a call for each would cost more.
 */
export class Ties {
  numbers = new Int32Array(ROOM);
  /** Of each: its (squared) distance, and the weights of the second and third corner. */
  values = new Float64Array(ROOM * 3);

  /** Twice the room; what is there stays. */
  grow(): void {
    const [numbers, values] = [this.numbers, this.values];
    this.numbers = new Int32Array(numbers.length * 2);
    this.numbers.set(numbers);
    this.values = new Float64Array(values.length * 2);
    this.values.set(values);
  }

  /** Which of the first `count` has the lowest number among those no further than the limit; −1 for none. */
  lowest(count: number, limit: number): number {
    const { numbers, values } = this;
    let best = -1;
    for (let i = 0; i < count; i++) if (values[i * 3] <= limit && (best < 0 || numbers[i] < numbers[best])) best = i;
    return best;
  }
}
