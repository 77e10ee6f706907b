import { newId, type Edit } from '../edits/document.ts';
import type { HandOut, HandOutPage, HandOutPart } from '../project/animation.ts';
import type { Project } from '../project/schema.ts';

const EMPTY: HandOut = { pages: [] };

const pages =
  (change: (all: readonly HandOutPage[]) => readonly HandOutPage[]): Edit =>
  (p) => ({ ...p, handOut: { ...(p.handOut ?? EMPTY), pages: change((p.handOut ?? EMPTY).pages) } });

/** A page of the hand-out more; the first one makes the hand-out. */
export const addPage = (name: string, parts: readonly HandOutPart[] = []): Edit =>
  pages((all) => [...all, { id: newId('page'), name, parts }]);

export const changePage = (id: string, change: Partial<Omit<HandOutPage, 'id'>>): Edit =>
  pages((all) => all.map((page) => (page.id === id ? { ...page, ...change } : page)));

export const removePage = (id: string): Edit => pages((all) => all.filter((page) => page.id !== id));

/** Whether two parts hand out the same object or card. */
export const isSamePart = (a: HandOutPart, b: HandOutPart): boolean =>
  a.kind === 'object' ? b.kind === 'object' && a.object === b.object : b.kind === 'dials' && a.node === b.node;

/** Puts a part on a page, in the place of one for the same thing. */
export const putPart = (page: string, part: HandOutPart): Edit =>
  pages((all) =>
    all.map((p) => {
      if (p.id !== page) return p;
      const known = p.parts.some((q) => isSamePart(q, part));
      return { ...p, parts: known ? p.parts.map((q) => (isSamePart(q, part) ? part : q)) : [...p.parts, part] };
    }),
  );

export const removePart = (page: string, part: HandOutPart): Edit =>
  pages((all) => all.map((p) => (p.id === page ? { ...p, parts: p.parts.filter((q) => !isSamePart(q, part)) } : p)));

/** Moves a part up or down on its page. */
export const movePartOnPage = (page: string, from: number, to: number): Edit =>
  pages((all) =>
    all.map((p) => {
      if (p.id !== page || to < 0 || to >= p.parts.length) return p;
      const parts = [...p.parts];
      parts.splice(to, 0, ...parts.splice(from, 1));
      return { ...p, parts };
    }),
  );

/** Without a hand-out animators get everything. */
export const dropHandOut: Edit = (p) => ({ ...p, handOut: null });

/** A copy of a project to be animated, whose rig stays as it is. */
export const forAnimation = (project: Project): Project => ({ ...project, forAnimation: true });
