/** Whether arrays are shared with the page; otherwise they are given to it. */
export const shares = typeof SharedArrayBuffer !== 'undefined' && self.crossOriginIsolated;

export const memory = (bytes: number): ArrayBufferLike => (shares ? new SharedArrayBuffer(bytes) : new ArrayBuffer(bytes));
export const integers = (n: number) => (shares ? new Int32Array(new SharedArrayBuffer(n * 4)) : new Int32Array(n));
