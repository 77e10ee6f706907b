import { useThree } from '@react-three/fiber';
import { isMirroring } from '@umberfish/core';
import { useEffect, useLayoutEffect, useMemo, type ReactNode } from 'react';
import type { MeshBasicMaterial } from 'three';
import {
  BufferAttribute,
  BufferGeometry,
  Color,
  DoubleSide,
  InstancedBufferAttribute,
  InstancedMesh,
  LineBasicMaterial,
  Matrix4,
  MeshLambertMaterial,
  MeshStandardMaterial,
  PointsMaterial,
  type Texture,
  type Object3D,
} from 'three';
import { PREVIEW_KEY } from '../../engine/request.ts';
import type { DrawnMesh } from '../../engine/geometry-store.ts';
import type { StageShading } from '../../state/ui-slice.ts';
import type { DrawnItem } from './drawn-items.ts';
import { usePictures } from './surface-pictures.ts';
import { dressUp, rimMaterial } from './surface-look.ts';

const CLAY = new Color(0.5, 0.235, 0.11);

/** How surfaces take the light; tests draw in software, where the plain way is several times as quick. */
const Surface = navigator.webdriver ? MeshLambertMaterial : MeshStandardMaterial;
type SurfaceMaterial = MeshStandardMaterial | MeshLambertMaterial;

/** Counts of what was made on the graphics card, for tests: steady dragging must not raise them. */
export const made = { geometries: 0 };

/** Buffers of one geometry: made once per topology, their contents replaced when points move. */
class Buffers {
  readonly surface = new BufferGeometry();
  readonly lines = new BufferGeometry();
  readonly points = new BufferGeometry();

  constructor(mesh: DrawnMesh) {
    made.geometries++;
    const position = new BufferAttribute(mesh.positions, 3);
    const normal = new BufferAttribute(mesh.normals, 3);
    this.surface.setAttribute('position', position);
    this.surface.setAttribute('normal', normal);
    if (mesh.topology.uvs) this.surface.setAttribute('uv', new BufferAttribute(mesh.topology.uvs, 2));
    this.surface.setIndex(new BufferAttribute(mesh.topology.triangles, 1));
    mesh.topology.groups.forEach((g) => this.surface.addGroup(g.start, g.count, Math.max(0, g.material)));
    this.lines.setAttribute('position', position);
    this.lines.setIndex(new BufferAttribute(mesh.topology.edges, 1));
    this.points.setAttribute('position', position);
    this.points.setDrawRange(0, mesh.topology.pointCount);
  }

  update(mesh: DrawnMesh): void {
    replace(this.surface.getAttribute('position') as BufferAttribute, mesh.positions);
    replace(this.surface.getAttribute('normal') as BufferAttribute, mesh.normals);
    for (const g of [this.surface, this.lines, this.points]) {
      g.boundingSphere = null;
      g.boundingBox = null;
    }
    if (!mesh.colours) this.surface.deleteAttribute('color');
    else {
      const known = this.surface.getAttribute('color') as BufferAttribute | undefined;
      if (known) replace(known, mesh.colours.data);
      else this.surface.setAttribute('color', new BufferAttribute(mesh.colours.data, 3));
    }
  }

  dispose(): void {
    this.surface.dispose();
    this.lines.dispose();
    this.points.dispose();
  }
}

/** The buffers of a mesh, as long as its topology is the same; its contents follow it. */
export function useBuffers(mesh: DrawnMesh): Buffers {
  const invalidate = useThree((s) => s.invalidate);
  // eslint-disable-next-line react-hooks/exhaustive-deps -- buffers belong to the topology; contents follow below
  const buffers = useMemo(() => new Buffers(mesh), [mesh.topology]);
  useEffect(() => () => buffers.dispose(), [buffers]);
  useLayoutEffect(() => {
    buffers.update(mesh);
    invalidate();
  }, [buffers, mesh, invalidate]);
  return buffers;
}

/** The card's buffer stays; only its contents are sent again. */
function replace(attribute: BufferAttribute | InstancedBufferAttribute, data: Float32Array): void {
  if (attribute.array === data) return;
  attribute.array = data;
  attribute.needsUpdate = true;
}

interface Props {
  item: DrawnItem;
  shading: StageShading;
  picked: boolean;
  /** Of copies each how many-eth is drawn. */
  stride?: number;
  register(id: string, object: Object3D | null): void;
}

/** One geometry on the stage. */
export function Geometry({ item, shading, picked, stride = 1, register }: Props) {
  const { mesh } = item;
  const invalidate = useThree((s) => s.invalidate);
  const buffers = useBuffers(mesh);

  const pictures = usePictures(mesh.topology);
  // Places of a checker are no colours.
  const places = mesh.colours?.places === true;
  const painted = mesh.colours !== undefined;
  const materials = useMemo(() => {
    const make = (colour: Color, picture?: Texture) => {
      const material = new Surface({
        color: painted ? new Color(1, 1, 1) : colour,
        map: picture ?? null,
        vertexColors: painted,
        side: DoubleSide,
        // A preview often lies exactly on a result; it is what one asked to see.
        polygonOffset: item.id === PREVIEW_KEY,
        polygonOffsetFactor: -2,
        polygonOffsetUnits: -2,
      });
      if (material instanceof MeshStandardMaterial) material.roughness = 0.78;
      dressUp(material, shading, places);
      return material;
    };
    const own = item.colour ? new Color(...item.colour) : CLAY;
    if (painted || mesh.topology.materials.length === 0) return [make(own)];
    return mesh.topology.materials.map(({ baseColour: [r, g, b], picture }) =>
      make(new Color(r, g, b), picture && pictures.get(picture.id)),
    );
  }, [mesh.topology, pictures, item.colour, item.id, painted, shading, places]);
  useEffect(() => () => materials.forEach((m) => m.dispose()), [materials]);
  const lineMaterial = useMemo(() => {
    return new LineBasicMaterial({
      color: stageColour(item.ghost ? '--sea' : '--ink', '#33241a'),
      transparent: true,
      opacity: item.ghost ? 0.13 : 0.5,
      depthWrite: false,
    });
  }, [item.ghost]);
  useEffect(() => () => lineMaterial.dispose(), [lineMaterial]);
  const pointMaterial = useMemo(() => new PointsMaterial({ color: new Color('#33241a'), size: 2.2, sizeAttenuation: false }), []);
  useEffect(() => () => pointMaterial.dispose(), [pointMaterial]);

  const matrix = useMemo(() => (item.matrix ? new Matrix4().fromArray(Array.from(item.matrix)) : new Matrix4()), [item.matrix]);
  useLayoutEffect(() => invalidate(), [matrix, shading, picked, materials, invalidate]);

  if (mesh.instances) {
    const { instances } = mesh;
    return <Instances {...{ materials, instances, picked, stride, register }} id={item.id} surface={buffers.surface} />;
  }
  if (item.ghost) {
    return (
      <lineSegments
        geometry={buffers.lines}
        material={lineMaterial}
        matrixAutoUpdate={false}
        matrix={matrix}
        frustumCulled={false}
        renderOrder={2}
      />
    );
  }
  return (
    <group matrixAutoUpdate={false} matrix={matrix}>
      <mesh
        ref={(o) => register(item.id, o)}
        geometry={buffers.surface}
        material={materials.length > 1 ? materials : materials[0]}
        visible={shading !== 'points'}
        frustumCulled={false}
      />
      {picked && shading !== 'points' && <Rim surface={buffers.surface} />}
      {shading === 'wire' && (
        <lineSegments geometry={buffers.lines} material={lineMaterial} frustumCulled={false} renderOrder={1} />
      )}
      {shading === 'points' && <points geometry={buffers.points} material={pointMaterial} frustumCulled={false} />}
      {mesh.needles && <Needles data={mesh.needles.data} />}
    </group>
  );
}

/** A line round what is picked. */
function useRim(): MeshBasicMaterial {
  const { width, height } = useThree((s) => s.size);
  const material = useMemo(() => rimMaterial(stageColour('--pick', '#8a2f52'), { width, height }), [width, height]);
  useEffect(() => () => material.dispose(), [material]);
  return material;
}

function Rim({ surface }: { surface: BufferGeometry }) {
  return <mesh geometry={surface} material={useRim()} frustumCulled={false} renderOrder={-1} />;
}

/** A colour of the page's, as it is now. */
const stageColour = (name: string, otherwise: string): Color =>
  new Color(getComputedStyle(document.documentElement).getPropertyValue(name).trim() || otherwise);

type CopySet = NonNullable<DrawnMesh['instances']>;

interface InstancesProps {
  id: string;
  surface: BufferGeometry;
  materials: readonly CopyMaterial[];
  instances: CopySet;
  picked: boolean;
  stride: number;
  register(id: string, object: Object3D | null): void;
}

type CopyMaterial = SurfaceMaterial | MeshBasicMaterial;

/** Copies: one draw for all that are as they were made, one for all that are mirrored, whose faces turn round. */
function Instances({ id, surface, materials, instances, picked, stride, register }: InstancesProps) {
  const sets = useMemo(() => [false, true].map((mirrored) => copiesThat(instances, mirrored, stride)), [instances, stride]);
  const draw = (of: readonly CopyMaterial[], order: number) =>
    sets.map(
      (set, i) =>
        set.matrices.length > 0 && (
          <group key={i} scale-x={i === 1 ? -1 : 1}>
            <InstanceSet key={set.matrices.length} surface={surface} materials={of} {...set} order={order} />
          </group>
        ),
    );
  return (
    <>
      <group ref={(o) => register(id, o)}>{draw(materials, 0)}</group>
      {picked && <RimOfCopies draw={draw} />}
    </>
  );
}

function RimOfCopies({ draw }: { draw(of: readonly CopyMaterial[], order: number): ReactNode }) {
  const rim = useRim();
  const materials = useMemo(() => [rim], [rim]);
  return draw(materials, -1);
}

/** The copies that mirror, or do not; of all, each how many-eth. Those that do are drawn in a mirrored space, where they do not any more. */
function copiesThat({ matrices, colours }: CopySet, mirrored: boolean, stride: number): CopySet {
  const mine: number[] = [];
  for (let i = 0; i * 16 < matrices.length; i += stride) if (isMirroring(matrices, 1, i * 16) === mirrored) mine.push(i);
  if (mine.length * 16 === matrices.length && !mirrored) return { matrices, colours };
  const out = new Float32Array(mine.length * 16);
  mine.forEach((i, k) => {
    out.set(matrices.subarray(i * 16, i * 16 + 16), k * 16);
    if (mirrored) for (let o = k * 16; o < k * 16 + 16; o += 4) out[o] = -out[o];
  });
  if (!colours) return { matrices: out };
  return {
    matrices: out,
    colours: Float32Array.from({ length: mine.length * 3 }, (_, k) => colours[mine[Math.floor(k / 3)] * 3 + (k % 3)]),
  };
}

function InstanceSet({
  surface,
  materials,
  matrices,
  colours,
  order,
}: CopySet & { surface: BufferGeometry; materials: readonly CopyMaterial[]; order: number }) {
  const invalidate = useThree((s) => s.invalidate);
  const count = matrices.length / 16;
  // Materials of their own, since colours of copies multiply them.
  const own = useMemo(
    () =>
      materials.map((material) => {
        const made = material.clone();
        // What a material is dressed up with is not cloned.
        made.onBeforeCompile = material.onBeforeCompile;
        made.customProgramCacheKey = material.customProgramCacheKey;
        if (colours) made.color.set(1, 1, 1);
        return made;
      }),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- only whether there are colours matters
    [materials, colours !== undefined],
  );
  useEffect(() => () => own.forEach((m) => m.dispose()), [own]);
  const object = useMemo(() => {
    const mesh = new InstancedMesh(surface, own.length > 1 ? own : own[0], count);
    mesh.frustumCulled = false;
    mesh.renderOrder = order;
    return mesh;
  }, [surface, own, count, order]);
  useEffect(() => () => void object.dispose(), [object]);
  useLayoutEffect(() => {
    replace(object.instanceMatrix, matrices);
    if (!colours) object.instanceColor = null;
    else if (object.instanceColor) replace(object.instanceColor, colours);
    else object.instanceColor = new InstancedBufferAttribute(colours, 3);
    object.boundingSphere = null;
    object.boundingBox = null;
    invalidate();
  }, [object, matrices, colours, invalidate]);
  return <primitive object={object} />;
}

function Needles({ data }: { data: Float32Array }) {
  const geometry = useMemo(() => {
    const g = new BufferGeometry();
    g.setAttribute('position', new BufferAttribute(data, 3));
    return g;
  }, [data]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  return (
    <lineSegments geometry={geometry} frustumCulled={false}>
      <lineBasicMaterial color="#3f5f63" />
    </lineSegments>
  );
}
