import { store } from '../state/store.ts';
import { remarked, uiSet, type Arrangement } from '../state/ui-slice.ts';

/** The columns of the page: scene and settings, bench, stage over readout. In percent of the window. */
export type Shares = Readonly<Record<'side' | 'bench' | 'stage', number>>;

export const ARRANGEMENT_WORDS: Readonly<Record<Arrangement, string>> = {
  bench: 'Bench large',
  half: 'Bench and stage alike',
  stage: 'Stage large',
};
export const ARRANGEMENTS = Object.keys(ARRANGEMENT_WORDS) as Arrangement[];

/** Names and values of settings are never cut from so many pixels on. */
export const SIDE_IN_PIXELS = 260;

/** The shares of an arrangement in a window so wide (pixels): settings get what they need, the others part the rest. */
export function sharesOf(arrangement: Arrangement, width: number): Shares {
  const side = Math.min(28, Math.max(15, ((SIDE_IN_PIXELS + 4) / Math.max(1, width)) * 100));
  const half = width >= 1600 ? 46 : 42.5;
  const stage = { bench: 30, half, stage: 100 - side - 20 }[arrangement];
  return { side, bench: 100 - side - stage, stage };
}

/** What is remembered of a project's page: the arrangement, and sizes that were dragged, by group of panels. */
export interface PageLayout {
  readonly arrangement: Arrangement;
  readonly groups: Readonly<Record<string, Readonly<Record<string, number>>>>;
}

const KEY = 'umberfish-layout ';
const FRESH: PageLayout = { arrangement: 'half', groups: {} };

/** The layout of a project's page in this browser; a new one has the last that was chosen anywhere. */
export function readLayout(project: string): PageLayout {
  try {
    const own = localStorage.getItem(KEY + project);
    const last = localStorage.getItem(KEY);
    const found: unknown = JSON.parse(own ?? (last ? JSON.stringify({ ...FRESH, arrangement: last }) : 'null'));
    return isLayout(found) ? found : FRESH;
  } catch {
    return FRESH;
  }
}

const isLayout = (v: unknown): v is PageLayout => {
  const { arrangement, groups } = (v ?? {}) as Partial<PageLayout>;
  const areNumbers = (g: unknown) => typeof g === 'object' && g !== null && Object.values(g).every((n) => n >= 0 && n <= 100);
  return (
    ARRANGEMENTS.includes(arrangement as Arrangement) &&
    typeof groups === 'object' &&
    groups !== null &&
    Object.values(groups).every(areNumbers)
  );
};

/** Remembers a part of a project's layout. */
export function keepLayout(project: string, part: Partial<PageLayout>): void {
  try {
    const next = { ...readLayout(project), ...part };
    localStorage.setItem(KEY + project, JSON.stringify(next));
    if (part.arrangement) localStorage.setItem(KEY, part.arrangement);
  } catch {
    // Without storage the page is as it comes the next time.
  }
}

/** Takes the next arrangement, or a certain one. */
export function arrange(to?: Arrangement): void {
  const { arrangement, stageAlone } = store.getState().ui;
  const after = ARRANGEMENTS[(ARRANGEMENTS.indexOf(arrangement) + 1) % ARRANGEMENTS.length];
  // From the stage alone one comes back to what was there.
  const next = to ?? (stageAlone ? arrangement : after);
  store.dispatch(uiSet({ arrangement: next, stageAlone: false }));
  store.dispatch(remarked({ text: `${ARRANGEMENT_WORDS[next]}. W takes the next arrangement.`, kind: 'done' }));
}

/** The stage alone, and back. */
export const toggleStageAlone = (): void => void store.dispatch(uiSet({ stageAlone: !store.getState().ui.stageAlone }));
