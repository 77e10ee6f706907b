/**
 * Writes WebAssembly (core specification 1.0) for functions `run0(end: i32, first: f64) → f64`, `run1` … that work on an
 * imported memory. Only what formulas need.
 */
const I32 = 0x7f;
const F64 = 0x7c;

/** Unsigned LEB128. */
function unsigned(value: number): number[] {
  const bytes: number[] = [];
  let v = value;
  do {
    const low = v & 0x7f;
    v >>>= 7;
    bytes.push(v ? low | 0x80 : low);
  } while (v);
  return bytes;
}

const text = (s: string): number[] => [...unsigned(s.length), ...[...s].map((c) => c.charCodeAt(0))];
const list = (items: readonly number[][]): number[] => [...unsigned(items.length), ...items.flat()];

/** Instructions of one function body. */
export class Code {
  readonly bytes: number[] = [];
  private readonly double = new Float64Array(1);
  private readonly doubleBytes = new Uint8Array(this.double.buffer);

  private put(...bytes: number[]): void {
    for (const b of bytes) this.bytes.push(b);
  }

  /** An instruction without operands. */
  operation(code: number): void {
    this.put(code);
  }

  local(index: number): void {
    this.put(0x20, ...unsigned(index));
  }

  setLocal(index: number): void {
    this.put(0x21, ...unsigned(index));
  }

  constant(value: number): void {
    this.double[0] = value;
    this.put(0x44, ...this.doubleBytes);
  }

  /** Address on the stack → Float32 there, as f64. */
  loadFloat(offset: number): void {
    this.put(0x2a, 2, ...unsigned(offset), 0xbb);
  }

  /** The f64 at a fixed address. */
  loadDoubleAt(address: number): void {
    this.put(0x41, 0);
    this.loadDouble(address);
  }

  /** Address on the stack → f64 there. */
  loadDouble(offset: number): void {
    this.put(0x2b, 3, ...unsigned(offset));
  }

  /** Address and f64 on the stack → stored. */
  storeDouble(offset: number): void {
    this.put(0x39, 3, ...unsigned(offset));
  }

  /** Address and f64 on the stack → stored as Float32. */
  storeFloat(offset: number): void {
    this.put(0xb6, 0x38, 2, ...unsigned(offset));
  }

  /** f64 on the stack → rounded to Float32. */
  roundToFloat(): void {
    this.put(0xb6, 0xbb);
  }

  /** Adds the f64 on the stack to an f64 local. */
  addToSum(index: number): void {
    this.local(index);
    this.put(0xa0);
    this.setLocal(index);
  }

  /** yes, no, condition (i32) on the stack → one of them. */
  select(): void {
    this.put(0x1b);
  }

  /** i32 0 or 1 → f64. */
  yesToDouble(): void {
    this.put(0xb7);
  }

  /** Adds a small number (0 to 63) to an i32 local. */
  addTo(index: number, amount: number): void {
    this.local(index);
    this.put(0x41, amount, 0x6a);
    this.setLocal(index);
  }

  /** Adds 1 to an f64 local. */
  addOneTo(index: number): void {
    this.local(index);
    this.constant(1);
    this.put(0xa0);
    this.setLocal(index);
  }

  /** Repeats as long as local `a` is below local `b` (i32). */
  loopWhileBelow(a: number, b: number, body: () => void): void {
    this.put(0x02, 0x40, 0x03, 0x40);
    this.local(a);
    this.local(b);
    this.put(0x4e, 0x0d, 1);
    body();
    this.put(0x0c, 0, 0x0b, 0x0b);
  }
}

/**
 * A module with `run0`, `run1` … Their locals are: end (i32), first (f64), three i32 at 0, then `doubles` f64.
 */
export function encodeModule(doubles: number, bodies: readonly ((code: Code) => void)[]): Uint8Array<ArrayBuffer> {
  const locals = list([
    [3, I32],
    [...unsigned(doubles), F64],
  ]);
  const functions = bodies.map((write) => {
    const code = new Code();
    write(code);
    const body = locals.concat(code.bytes, [0x0b]);
    return unsigned(body.length).concat(body);
  });
  const sections: [number, number[]][] = [
    [1, list([[0x60, ...list([[I32], [F64]]), 1, F64]])],
    [2, list([[...text('from'), ...text('memory'), 2, 0, 1]])],
    [3, list(bodies.map(() => [0]))],
    [7, list(bodies.map((_, i) => [...text(`run${i}`), 0, ...unsigned(i)]))],
    [10, list(functions)],
  ];
  const bytes = [0x00, 0x61, 0x73, 0x6d, 1, 0, 0, 0];
  for (const [id, content] of sections) {
    bytes.push(id, ...unsigned(content.length));
    for (const b of content) bytes.push(b);
  }
  return Uint8Array.from(bytes);
}
