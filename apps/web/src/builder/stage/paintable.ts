import { useMemo } from 'react';
import { useStore } from '../../state/store.ts';

/** Attributes of everything that was evaluated and is a mesh, each name once, and the normals. */
export function usePaintable(): readonly { name: string; type: string }[] {
  const reports = useStore((s) => s.evaluation.reports);
  return useMemo(() => {
    const found = new Map<string, string>([['normal', 'vector']]);
    for (const r of reports.values())
      for (const o of Object.values(r.outputs)) for (const a of o.attributes ?? []) found.set(a.name, a.type);
    return [...found].map(([name, type]) => ({ name, type })).sort((a, b) => a.name.localeCompare(b.name));
  }, [reports]);
}
