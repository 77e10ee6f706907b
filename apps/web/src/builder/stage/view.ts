import type { Vec3 } from '@umberfish/core';
import type { Box3 } from 'three';
import { OrthographicCamera, PerspectiveCamera, Vector3, type Camera } from 'three';
import { OrbitControls } from 'three/addons/controls/OrbitControls.js';

export type ViewDirection = 'front' | 'back' | 'left' | 'right' | 'top' | 'below';

const DIRECTIONS: Record<ViewDirection, [number, number, number]> = {
  front: [0, 0, 1],
  back: [0, 0, -1],
  left: [-1, 0, 0],
  right: [1, 0, 0],
  top: [0, 1, 1e-4],
  below: [0, -1, 1e-4],
};

const FIELD_IN_DEGREES = 32;
const HALF_FIELD = Math.tan((FIELD_IN_DEGREES * Math.PI) / 360);

/** The eye of the stage: a perspective and a parallel camera that share one orbit. */
export class View {
  readonly perspective = new PerspectiveCamera(FIELD_IN_DEGREES, 1, 0.01, 500);
  readonly parallel = new OrthographicCamera(-1, 1, 1, -1, -200, 500);
  readonly controls: OrbitControls;
  private aspect = 1;

  constructor(
    element: HTMLElement,
    private readonly onChange: () => void,
    private readonly onCamera: (camera: Camera) => void,
  ) {
    this.perspective.position.set(1.9, 2.1, 5.2);
    this.controls = new OrbitControls(this.perspective, element);
    this.controls.target.set(0, 0.95, 0.1);
    this.controls.zoomToCursor = true;
    this.controls.addEventListener('change', onChange);
    this.controls.update();
  }

  get camera(): PerspectiveCamera | OrthographicCamera {
    return this.controls.object as PerspectiveCamera | OrthographicCamera;
  }

  get isParallel(): boolean {
    return this.camera === this.parallel;
  }

  resize(width: number, height: number): void {
    this.aspect = width / Math.max(1, height);
    this.perspective.aspect = this.aspect;
    this.perspective.updateProjectionMatrix();
    const half = (this.parallel.top - this.parallel.bottom) / 2;
    this.setParallelHeight(half);
    this.onChange();
  }

  /** Changes between perspective and parallel without a jump of what is in the middle. */
  setParallel(parallel: boolean): void {
    if (parallel === this.isParallel) return;
    const from = this.camera;
    const to = parallel ? this.parallel : this.perspective;
    const distance = from.position.distanceTo(this.controls.target);
    to.position.copy(from.position);
    if (parallel) {
      this.parallel.zoom = 1;
      this.setParallelHeight(distance * HALF_FIELD);
    } else {
      to.position
        .sub(this.controls.target)
        .setLength(this.parallelHalf / HALF_FIELD)
        .add(this.controls.target);
    }
    this.controls.object = to;
    this.onCamera(to);
    this.moved();
  }

  /** Looks along an axis, at what is in the middle. */
  look(direction: ViewDirection): void {
    const distance = this.camera.position.distanceTo(this.controls.target);
    this.camera.position
      .set(...DIRECTIONS[direction])
      .setLength(distance)
      .add(this.controls.target);
    this.moved();
  }

  /** Puts a box into the middle of what is free, all of it in sight. @param covered share of the height that a bar at the foot covers */
  frame(box: Box3, covered = 0): void {
    if (box.isEmpty()) return;
    const centre = box.getCenter(new Vector3());
    const radius = Math.max(box.getSize(new Vector3()).length() / 2, 0.05);
    const free = 1 - Math.min(0.6, covered);
    const distance = (radius * 1.12) / Math.min(HALF_FIELD * free, HALF_FIELD * this.aspect);
    const way = this.camera.position.clone().sub(this.controls.target).normalize();
    // The middle of what is free lies above that of the stage.
    const up = new Vector3().setFromMatrixColumn(this.camera.matrixWorld, 1);
    const target = centre.addScaledVector(up, -(1 - free) * distance * HALF_FIELD);
    this.controls.target.copy(target);
    this.camera.position.copy(target).addScaledVector(way, distance);
    if (this.isParallel) {
      this.parallel.zoom = 1;
      this.setParallelHeight(radius * 1.12 * Math.max(1 / free, 1 / this.aspect));
    }
    this.moved();
  }

  /** Where it stands and what it looks at, metres, in the world. A parallel eye stands where it would see as much. */
  get place(): { readonly eye: Vec3; readonly target: Vec3 } {
    const of = (v: Vector3): Vec3 => [v.x, v.y, v.z].map((x) => Number(x.toFixed(5))) as unknown as Vec3;
    const { target } = this.controls;
    const eye = this.camera.position.clone();
    if (this.isParallel)
      eye
        .sub(target)
        .setLength(this.parallelHalf / HALF_FIELD)
        .add(target);
    return { eye: of(eye), target: of(target) };
  }

  /** Half of the height that the parallel camera shows, metres. */
  private get parallelHalf(): number {
    return (this.parallel.top - this.parallel.bottom) / 2 / this.parallel.zoom;
  }

  /** Looks from a place at another. */
  goTo(eye: Vec3, target: Vec3): void {
    this.camera.position.set(...eye);
    this.controls.target.set(...target);
    if (this.isParallel) {
      this.parallel.zoom = 1;
      const distance = this.camera.position.distanceTo(this.controls.target);
      this.setParallelHeight(distance * HALF_FIELD);
    }
    this.moved();
  }

  /** Who asks what is under the pointer before the next picture is drawn, asks from where the eye is now. */
  private moved(): void {
    this.controls.update();
    this.camera.updateMatrixWorld();
    this.onChange();
  }

  dispose(): void {
    this.controls.dispose();
  }

  private setParallelHeight(half: number): void {
    this.parallel.top = half;
    this.parallel.bottom = -half;
    this.parallel.left = -half * this.aspect;
    this.parallel.right = half * this.aspect;
    this.parallel.updateProjectionMatrix();
  }
}
