import type { ModuleFile } from '../modules/file.ts';
import type { ProofResult } from './prove.ts';

/**
 * Tries the proofs of a module; a bound of cost that is missed is tried again in another process before it counts. A
 * process may be slow for good, by where its code and its memory happened to come to lie, whatever it measures and however
 * often; what a module costs is what it costs where it runs best.
 * @param first tries proofs here, @param elsewhere in a process that has done nothing else; undefined where there is none
 */
export async function proveTwice(
  file: ModuleFile,
  first: (file: ModuleFile) => Promise<ProofResult[]>,
  elsewhere: (file: ModuleFile) => Promise<ProofResult[] | undefined>,
): Promise<ProofResult[]> {
  const { module } = file;
  const results = await first(file);
  const missed = module.proofs.flatMap((p, i) => (p.kind === 'cost' && !results[i].ok && results[i].known === '' ? [i] : []));
  if (missed.length === 0) return results;
  const again = await elsewhere({ ...file, module: { ...module, proofs: missed.map((i) => module.proofs[i]) } });
  return results.map((result, i) => {
    const other = again?.[missed.indexOf(i)];
    return other?.ok ? other : result;
  });
}
