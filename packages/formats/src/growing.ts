/** A Float32 list that grows by doubling; for readers that do not know the count beforehand. */
export class FloatList {
  private data = new Float32Array(1024);
  length = 0;

  push(v: number): void {
    if (this.length === this.data.length) {
      const larger = new Float32Array(this.data.length * 2);
      larger.set(this.data);
      this.data = larger;
    }
    this.data[this.length++] = v;
  }

  at(i: number): number {
    return this.data[i];
  }

  /** The numbers so far, in an array of their own. */
  done(): Float32Array {
    return this.data.slice(0, this.length);
  }
}

/** An Int32 list that grows by doubling. */
export class IntList {
  private data = new Int32Array(1024);
  length = 0;

  push(v: number): void {
    if (this.length === this.data.length) {
      const larger = new Int32Array(this.data.length * 2);
      larger.set(this.data);
      this.data = larger;
    }
    this.data[this.length++] = v;
  }

  at(i: number): number {
    return this.data[i];
  }

  /** The numbers so far, in an array of their own. */
  done(): Int32Array {
    return this.data.slice(0, this.length);
  }
}
