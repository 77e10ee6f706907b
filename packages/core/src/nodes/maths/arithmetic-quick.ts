import type { Kernel } from '../../graph/definition.ts';

/** Operations of the quick kernels, by number: the choice inside the loop is always predicted. */
const QUICK = { add: 0, subtract: 1, multiply: 2, divide: 3 } as const;
export type QuickOperation = keyof typeof QUICK;

export const isQuick = (operation: string): operation is QuickOperation => Object.hasOwn(QUICK, operation);

/**
 * The commonest sums: two lanes, then if wanted one number for all; in one loop without a call per element.
 * A reading of a typed array costs more than the sum itself, so a number beside a vector is read once for its
 * three axes (spreading it to a lane first made the swell graph a third slower).
 * @param third is rounded to Float32 as a lane of it would be.
 */
export function quickKernel(
  operation: QuickOperation,
  width: 1 | 3,
  secondWidth: 1 | 3,
  third: number | undefined,
): Kernel {
  const code = QUICK[operation];
  const neutral = operation === 'multiply' || operation === 'divide' ? 1 : 0;
  const last = third === undefined ? neutral : Math.fround(third);
  return width === secondWidth ? lanesAlike(code, width, last) : vectorByNumber(code, last);
}

function lanesAlike(code: number, width: number, last: number): Kernel {
  return (inputs, inputAt, outputs, outputAt, count) => {
    const a = inputs[0], b = inputs[1], out = outputs[0], i = inputAt[0], j = inputAt[1], o = outputAt[0]; // prettier-ignore
    const op = code, c = last, n = count * width; // prettier-ignore
    for (let k = 0; k < n; k++) {
      const x = a[i + k], y = b[j + k]; // prettier-ignore
      out[o + k] = op === 2 ? x * y * c : op === 0 ? x + y + c : op === 1 ? x - y - c : x / y / c;
    }
  };
}

function vectorByNumber(code: number, last: number): Kernel {
  return (inputs, inputAt, outputs, outputAt, count) => {
    const a = inputs[0], b = inputs[1], out = outputs[0], j = inputAt[1]; // prettier-ignore
    const op = code, c = last; // prettier-ignore
    for (let k = 0, i = inputAt[0], o = outputAt[0]; k < count; k++, i += 3, o += 3) {
      const x = a[i], y = a[i + 1], z = a[i + 2], n = b[j + k]; // prettier-ignore
      if (op === 2) {
        out[o] = x * n * c;
        out[o + 1] = y * n * c;
        out[o + 2] = z * n * c;
      } else if (op === 0) {
        out[o] = x + n + c;
        out[o + 1] = y + n + c;
        out[o + 2] = z + n + c;
      } else if (op === 1) {
        out[o] = x - n - c;
        out[o + 1] = y - n - c;
        out[o + 2] = z - n - c;
      } else {
        out[o] = x / n / c;
        out[o + 1] = y / n / c;
        out[o + 2] = z / n / c;
      }
    }
  };
}
