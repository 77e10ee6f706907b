import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { AttributePlace, Brush, CurvePick, PortRef } from '@umberfish/core';
import type { Paint } from '../engine/protocol.ts';

export type StageTool = 'move' | 'turn' | 'size' | 'pivot';
/** How surfaces look: as they are, or to judge them by. */
export type StageShading = 'shaded' | 'wire' | 'points' | 'facing' | 'checker-rest' | 'checker-uv' | 'checker-world';
export type ReadoutTab = 'values' | 'plot' | 'contact' | 'messages';

/** Which of bench and stage has more room. */
export type Arrangement = 'bench' | 'half' | 'stage';

/** An output pinned for comparing: as it is now (frame null), at a frame, or with its points at rest. */
export interface Pin extends PortRef {
  frame: number | null;
  rest: boolean;
}

/** A brush, the axis across which it paints too, and the attributes of weights that it leaves alone. */
export interface BrushSettings extends Brush {
  readonly across: 0 | 1 | 2 | null;
  readonly locked: readonly string[];
}

/** What is looked at and how; nothing of it is saved with the project. */
export interface UiState {
  graph: string | null;
  nodes: string[];
  objects: string[];
  /** The section whose settings are shown, when nothing else is picked. */
  section: string | null;
  /** A small map of the whole graph in the corner of the bench. */
  map: boolean;
  /** The output that Values and Plot show. */
  port: PortRef | null;
  /** The output whose wire the pointer rests on. */
  hovered: PortRef | null;
  /** Elements the table lists, for meshes. */
  tableOn: AttributePlace;
  /** Two pinned outputs; while A is pinned, the table compares. */
  pinA: Pin | null;
  pinB: Pin | null;
  onlyChanged: boolean;
  differenceNeedles: boolean;
  /** An attribute shown on the stage. */
  paint: Paint | null;
  /** The node whose values are painted in the stage, and what the colours there mean. */
  painting: { node: string; colours: 'heat' | 'joints' } | null;
  /** How it is painted. */
  brush: BrushSettings;
  /** The point set that is being chosen in the stage. */
  choosing: { object: string; set: string } | null;
  /** Of the picked curve: what is taken hold of, and whether clicks in the stage add points. */
  curvePoint: CurvePick | null;
  drawing: boolean;
  snap: 'none' | 'grid' | 'surface';
  /** A picked element of the table, a point in the stage. */
  element: number | null;
  /** A second point, to which is measured from the first. */
  measured: number | null;
  /** Objects whose way over the range is drawn. */
  trails: readonly string[];
  frame: number;
  /** Changed channels and numbers get keys by themselves. */
  autoKey: boolean;
  /** The panel of keys: folded, as rows, or as curves. */
  keys: 'off' | 'rows' | 'curves';
  playing: boolean;
  /** Playing begins again at the end of the range. */
  loop: boolean;
  /** Nothing is evaluated until it is asked for. */
  paused: boolean;
  tool: StageTool;
  toolSpace: 'world' | 'local';
  shading: StageShading;
  ghost: boolean;
  /** The stage keeps its view when another graph is opened. */
  viewPinned: boolean;
  isolate: boolean;
  readout: ReadoutTab;
  arrangement: Arrangement;
  /** The stage covers everything but the time strip. */
  stageAlone: boolean;
  /** The rig stays as it is: only what is handed out may change. */
  animating: boolean;
  /** The page of the hand-out whose dials are shown. */
  page: string | null;
  /** Frames before and after that are drawn of what is picked, and how many lie between two. */
  ghosts: { before: number; after: number; every: number };
  /** How fast it plays, and whether every frame is shown, however long it takes. */
  speed: number;
  everyFrame: boolean;
  theme: 'day' | 'night';
  /** The stage is drawn with a quarter of the pixels: where drawing is slow. */
  coarse: boolean;
  /** Which axes stay though the handle was moved along them, and why. */
  heldAxes: string | null;
  /** A passing remark: what was done, or why not. */
  remark: { text: string; kind: 'done' | 'wrong'; id: number } | null;
  /** Files that are being read, by name, where that takes long. */
  reading: string | null;
}

const initial: UiState = {
  graph: null,
  nodes: [],
  objects: [],
  section: null,
  map: false,
  port: null,
  hovered: null,
  tableOn: 'point',
  pinA: null,
  pinB: null,
  onlyChanged: false,
  differenceNeedles: false,
  paint: null,
  painting: null,
  brush: { mode: 'add', value: 1, strength: 0.5, reach: 0.2, fade: 'soft', across: null, locked: [] },
  choosing: null,
  curvePoint: null,
  drawing: false,
  snap: 'none',
  element: null,
  measured: null,
  trails: [],
  frame: 1,
  autoKey: false,
  keys: 'off',
  playing: false,
  loop: true,
  paused: false,
  tool: 'move',
  toolSpace: 'world',
  shading: 'shaded',
  ghost: true,
  viewPinned: false,
  isolate: false,
  readout: 'values',
  arrangement: 'half',
  stageAlone: false,
  animating: false,
  page: null,
  ghosts: { before: 0, after: 0, every: 4 },
  speed: 1,
  everyFrame: false,
  theme: 'day',
  coarse: false,
  heldAxes: null,
  remark: null,
  reading: null,
};

const same = (a: readonly string[], b: readonly string[]) => a.length === b.length && a.every((x, i) => x === b[i]);

const slice = createSlice({
  name: 'ui',
  initialState: initial,
  reducers: {
    uiSet(state, { payload }: PayloadAction<Partial<UiState>>) {
      Object.assign(state, payload);
      // It is measured from the marked point, as long as that is marked.
      if ('element' in payload && !('measured' in payload)) state.measured = null;
    },
    uiReset: (state, { payload }: PayloadAction<Partial<UiState>>) => ({
      ...initial,
      theme: state.theme,
      coarse: state.coarse,
      arrangement: state.arrangement,
      animating: state.animating,
      ...payload,
    }),
    nodesPicked(state, { payload }: PayloadAction<string[]>) {
      if (payload.length === 0) state.section = null;
      if (same(state.nodes, payload)) return;
      state.nodes = payload;
      state.section = null;
      if (state.painting && !payload.includes(state.painting.node)) state.painting = null;
      if (payload.length > 0) state.objects = [];
      if (state.port && !payload.includes(state.port.node)) {
        state.port = null;
        state.element = null;
      }
    },
    objectsPicked(state, { payload }: PayloadAction<string[]>) {
      if (same(state.objects, payload)) return;
      state.objects = payload;
      state.heldAxes = null;
      state.section = null;
      state.curvePoint = null;
      state.drawing = false;
      if (state.choosing && !payload.includes(state.choosing.object)) state.choosing = null;
      if (payload.length > 0) [state.nodes, state.painting] = [[], null];
    },
    portPicked(state, { payload }: PayloadAction<PortRef>) {
      state.nodes = [payload.node];
      if (state.painting?.node !== payload.node) state.painting = null;
      state.objects = [];
      state.section = null;
      state.port = payload;
    },
    sectionPicked(state, { payload }: PayloadAction<string>) {
      state.section = payload;
      [state.nodes, state.painting] = [[], null];
      state.objects = [];
    },
    remarked(state, { payload }: PayloadAction<{ text: string; kind: 'done' | 'wrong' }>) {
      state.remark = { ...payload, id: (state.remark?.id ?? 0) + 1 };
    },
    remarkCleared(state) {
      state.remark = null;
    },
  },
});

export const { uiSet, uiReset, nodesPicked, objectsPicked, portPicked, sectionPicked, remarked, remarkCleared } = slice.actions;
export const uiReducer = slice.reducer;
