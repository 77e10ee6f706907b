import type {
  AttributePlace,
  ColumnPlace,
  PackedDriven,
  NodeReport,
  PortRef,
  Project,
  Statistics,
  ProjectDifference,
  SurfacePicture,
} from '@umberfish/core';

/** What is asked of the worker; the project only when it is not the one it has. */
export interface PictureRequest {
  readonly id: number;
  /** The document: whole, or what differs from the one that was sent before; null where nothing does. */
  readonly project: { readonly whole: Project } | { readonly difference: ProjectDifference } | null;
  readonly frame: number;
  /** The gesture that the document is in the middle of, if it is in one. */
  readonly gesture?: string;
  /** Outputs that must be known: shown, previewed, probed, looked at. */
  readonly wanted: readonly PortRef[];
  /** Those of them that are wanted for the picked card only: nothing reads them. */
  readonly glanced: readonly PortRef[];
  /** Show Mesh nodes and previewed geometry to draw, by key. */
  readonly shown: readonly {
    key: string;
    ref: PortRef;
    colourBy?: PortRef & { label: string };
    /** The mesh of the object it is shown for, whose places are its rest where it remembers none. */
    source?: string;
  }[];
  /** Objects that are drawn as they are, to be painted with a falloff too. */
  readonly plain: readonly { object: string; asset: string }[];
  /** Assets to draw as they are: sources without a result, ghosts. */
  readonly assets: readonly string[];
  readonly statistics: readonly PortRef[];
  readonly table: TableRequest | null;
  /** Two outputs side by side, instead of the table of one. */
  readonly compare: CompareRequest | null;
  /** Falloffs whose boundaries are drawn, and one that paints every mesh with its weights. */
  readonly falloffs: readonly PortRef[];
  readonly paintWith: (PortRef & { label: string }) | null;
  /** An attribute that every mesh shows which has it. */
  readonly paint: Paint | null;
  /** Objects that are drawn at other frames too: by what graphs make of them, or as they are. */
  readonly ghosts: {
    readonly frames: readonly number[];
    readonly results: readonly PortRef[];
    readonly plain: readonly { readonly object: string; readonly asset: string }[];
  };
}

/** Something at another frame: the mesh of a key, where it stands in the world (null where it was made there). */
export interface PictureGhost {
  readonly frame: number;
  readonly key: string;
  readonly matrix: Float64Array | null;
}

/** An attribute shown on the meshes of the stage: vectors as needles or as red, green and blue. */
export interface Paint {
  readonly name: string;
  /** A checker takes what is stored as places; heat goes over a range that is given; of weights each joint has its colour. */
  readonly as: 'needles' | 'rgb' | 'checker' | 'heat' | 'joints';
  readonly range?: readonly [number, number];
}

/** One side of a comparison: an output now, at a fixed frame, or with its points at rest. */
export interface Side {
  readonly ref: PortRef;
  readonly label: string;
  readonly unit: string;
  readonly frame: number | null;
  readonly rest: boolean;
  /** The mesh its values belong to. */
  readonly context: PortRef | null;
}

export interface CompareRequest {
  readonly a: Side;
  readonly b: Side;
  readonly on: AttributePlace;
  readonly onlyChanged: boolean;
  /** Draw a needle from every point of A to that of B. */
  readonly needles: boolean;
}

export interface TableRequest {
  readonly ref: PortRef;
  readonly label: string;
  readonly unit: string;
  readonly on: AttributePlace;
  readonly context: PortRef | null;
}

/** Vertices and triangles as the graphics card wants them; made once per topology. */
export interface PictureTopology {
  readonly id: string;
  readonly pointCount: number;
  readonly faceCount: number;
  readonly vertexPoints: Int32Array;
  /** Three vertices per triangle, sorted by material. */
  readonly triangles: Uint32Array;
  readonly triangleFaces: Int32Array;
  readonly groups: readonly { start: number; count: number; material: number }[];
  /** Two vertices per edge. */
  readonly edges: Uint32Array;
  readonly materials: readonly { name: string; baseColour: readonly number[]; picture?: SurfacePicture & { id: string } }[];
  /** Two per vertex, where something lies by them. */
  readonly uvs?: Float32Array;
}

/** One geometry of a picture. Arrays may be shared with the worker: they are read, never written. */
export interface PictureMesh {
  readonly key: string;
  readonly topologyId: string;
  /** The topology, the first time it is sent. */
  readonly topology?: PictureTopology;
  /** xyz per vertex; left out when nothing moved since the last picture. */
  readonly positions?: Float32Array;
  readonly normals?: Float32Array;
  /** rgb per vertex of a previewed number, with its range; or needles of a previewed vector. */
  readonly colours?: {
    data: Float32Array;
    from: number;
    to: number;
    label: string;
    rgb?: 'stored' | 'axes' | 'joints';
    places?: true;
  };
  readonly needles?: { data: Float32Array; label: string };
  /** Copies of it: 16 numbers each, and a colour each where they have one. */
  readonly instances?: { matrices: Float32Array; colours?: Float32Array };
}

/** Key of one of the geometries that copies are made of. */
export const partKey = (key: string, part: number) => (part === 0 ? key : `${key}/${part}`);

/** Lines of a picture: pairs of xyz, world space. */
export interface PictureLines {
  readonly key: string;
  readonly as: 'curve' | 'inner' | 'outer';
  readonly data: Float32Array;
}

/** What is known of a table, for its header. */
export interface TableHeader {
  readonly rows: number;
  readonly on: ColumnPlace | 'single';
  readonly columns: readonly { label: string; part: string; unit: string; whole: boolean }[];
  /** What each row is called, where they have names. */
  readonly names?: readonly string[];
  /** Changes whenever the numbers may have. */
  readonly version: number;
  /** Of a comparison: rows that differ, and what cannot be compared in a sentence. */
  readonly changed?: number;
  readonly note?: string;
}

export interface Picture {
  readonly id: number;
  readonly frame: number;
  readonly meshes: readonly PictureMesh[];
  readonly lines: readonly PictureLines[];
  readonly ghosts: readonly PictureGhost[];
  /** Colours of objects that are drawn as they are, where a falloff paints them. */
  readonly painted: ReadonlyMap<string, NonNullable<PictureMesh['colours']>>;
  /** What graphs put into objects. */
  readonly driven: PackedDriven;
  readonly reports: ReadonlyMap<string, NodeReport>;
  readonly statistics: ReadonlyMap<string, Statistics>;
  readonly table: TableHeader | null;
  readonly costInMs: number;
  /** Memory that was taken anew for results since the worker began, in bytes. */
  readonly takenBytes: number;
}

/** A result to be written to a file. */
export interface WriteRequest {
  readonly project: Project;
  readonly frame: number;
  readonly result: { readonly node: string; readonly name: string };
  readonly format: 'obj' | 'glb';
  /** The name of the file without its ending. */
  readonly stem: string;
}

/** Written files, and what they could not hold or what is wrong. */
export interface Written {
  readonly files: readonly { readonly name: string; readonly content: string | Uint8Array }[];
  readonly notes: readonly string[];
}

/** Slots of the control block the page and the worker share. */
export const CONTROL = { newest: 0, beats: 1, done: 2, all: 3, size: 4 } as const;
