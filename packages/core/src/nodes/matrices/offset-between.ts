import type { NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { identity, invert, multiply, matrixAt } from '../../maths/matrix.ts';
import { matrixLanes, matrixOutput, matrixPort, matrixResult } from './lanes.ts';

export const offsetBetween: NodeDefinition = {
  id: 'offset-between',
  version: 1,
  title: 'Offset Between',
  group: 'Matrices',
  summary: 'Tells where a is as seen from b: the matrix that b must be followed by to reach a.',
  keywords: ['relative', 'local', 'difference', 'space of'],
  inputs: () => [matrixPort('a', 'a', 'What is looked at.'), matrixPort('b', 'seen from b', 'Whose space it is told in.')],
  outputs: () => [matrixOutput('matrix', 'offset', 'b⁻¹ × a.')],
  settings: [],
  sentence: (_, c) => `${c.source?.('a') ?? 'a'}, seen from ${c.source?.('b') ?? 'b'}`,
  light: true,
  evaluate(context) {
    const { lanes, count, owner } = matrixLanes(context, ['a', 'b']);
    const [a, b] = lanes;
    const out = new Float64Array(count * 16);
    const inverse = identity();
    for (let i = 0; i < count; i++) {
      if ((i & 1023) === 0) context.checkpoint();
      if (!invert(inverse, matrixAt(b.data, b.step === 0 ? 0 : i)))
        throw new NodeError({ code: 'matrix-singular', what: '"seen from b"' });
      multiply(matrixAt(out, i), inverse, matrixAt(a.data, a.step === 0 ? 0 : i));
    }
    return { matrix: matrixResult(out, owner) };
  },
};
