const KEY = 'umberfish-patience';
/** Of so many graphs it is remembered, the last ones. */
const MOST = 200;

const remembered = (): string[] => {
  try {
    const found: unknown = JSON.parse(localStorage.getItem(KEY) ?? '[]');
    return Array.isArray(found) ? found.filter((x) => typeof x === 'string') : [];
  } catch {
    return [];
  }
};

/** Graphs that are let run, however long a step takes: by project and graph, in this browser. */
const patient = new Set(remembered());

const keyOf = (project: string, graph: string): string => `${project} ${graph}`;

/** Whether a graph is let run without a sign of life. */
export const isLetRun = (project: string, graph: string): boolean => patient.has(keyOf(project, graph));

/** Lets a graph run, from now on. */
export function letRun(project: string, graph: string): void {
  patient.add(keyOf(project, graph));
  try {
    localStorage.setItem(KEY, JSON.stringify([...patient].slice(-MOST)));
  } catch {
    // It holds on this page.
  }
}
