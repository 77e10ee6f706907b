import { discharge } from '../../charges.ts';

/** Smaller arrays are made anew: there is little to gain. */
const LEAST_BYTES = 16_384;

/** How an {@link ArrayRoom} is set up; every field has a default. */
export interface ArrayRoomOptions {
  /** Gives new memory, so that a worker can hand out what it shares; default: an `ArrayBuffer`. */
  readonly memory?: (bytes: number) => ArrayBufferLike;
  /** For tests: what is not written yet, and what was let go, is NaN, so that whoever reads it is found out. */
  readonly spoils?: boolean;
}

/**
 * The memory of results. What is let go is handed out again, as another array over the same memory: what is remembered by
 * an array (its normals, its bounds, a tree) is never taken for that of the next.
 */
export class ArrayRoom {
  private readonly free = new Map<number, ArrayBufferLike[]>();
  /** Let go since the last turn: somebody outside may still be looking at it. */
  private resting: ArrayBufferLike[] = [];
  /** What is out and came from here; nothing else is taken back. */
  private readonly out = new WeakSet<ArrayBufferLike>();
  private readonly memory: (bytes: number) => ArrayBufferLike;
  private readonly spoils: boolean;
  private freeBytes = 0;
  private newBytes = 0;

  /** @param mostInBytes of what was let go no more is kept for the next who asks */
  constructor(
    public mostInBytes: number,
    { memory, spoils }: ArrayRoomOptions = {},
  ) {
    this.memory = memory ?? ((bytes) => new ArrayBuffer(bytes));
    this.spoils = spoils ?? false;
  }

  /** Bytes that were taken anew, in all: they stand still while a drag goes on. */
  get takenBytes(): number {
    return this.newBytes;
  }

  /** Numbers that are 0. */
  floats(count: number): Float32Array {
    const known = this.takeFree(count * 4);
    return known ? new Float32Array(known).fill(0) : new Float32Array(this.takeNew(count * 4));
  }

  /** Numbers that are whatever they are: for those who write all of them. */
  room(count: number): Float32Array {
    return new Float32Array(this.take(count * 4));
  }

  /** The same as 64-bit numbers. */
  doubles(count: number): Float64Array {
    return new Float64Array(this.take(count * 8));
  }

  /** Takes memory back that nobody inside reads any more; it rests until the next turn. */
  takeBack(memory: ArrayBufferLike): void {
    if (!this.out.delete(memory)) return;
    this.resting.push(memory);
  }

  /** Takes memory back that nobody but who gives it has seen: it is free at once. */
  giveBack({ buffer }: Float32Array | Float64Array): void {
    if (this.out.delete(buffer)) this.setFree(buffer);
  }

  /** What was let go since the last turn may be handed out from now on. */
  turn(): void {
    for (const memory of this.resting) this.setFree(memory);
    this.resting = [];
  }

  private setFree(memory: ArrayBufferLike): void {
    discharge(memory);
    const bytes = memory.byteLength;
    if (this.freeBytes + bytes > this.mostInBytes) return;
    if (this.spoils) spoil(memory);
    const alike = this.free.get(bytes);
    if (alike) alike.push(memory);
    else this.free.set(bytes, [memory]);
    this.freeBytes += bytes;
  }

  private take(bytes: number): ArrayBufferLike {
    const memory = this.takeFree(bytes) ?? this.takeNew(bytes);
    if (this.spoils) spoil(memory);
    return memory;
  }

  private takeFree(bytes: number): ArrayBufferLike | undefined {
    const known = this.free.get(bytes)?.pop();
    if (!known) return undefined;
    this.freeBytes -= bytes;
    this.out.add(known);
    return known;
  }

  private takeNew(bytes: number): ArrayBufferLike {
    const memory = this.memory(bytes);
    if (bytes < LEAST_BYTES) return memory;
    this.newBytes += bytes;
    this.out.add(memory);
    return memory;
  }
}

/** Makes all numbers NaN, whether they are read as 32 or as 64 bits. */
const spoil = (memory: ArrayBufferLike): void => void new Uint8Array(memory).fill(255);
