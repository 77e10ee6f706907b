import type { ExampleLook } from '@umberfish/core';
import {
  AmbientLight,
  Box3,
  BufferAttribute,
  BufferGeometry,
  Color,
  DirectionalLight,
  DoubleSide,
  GridHelper,
  HemisphereLight,
  Mesh,
  MeshBasicMaterial,
  MeshStandardMaterial,
  Object3D,
  OctahedronGeometry,
  PerspectiveCamera,
  Scene,
  SphereGeometry,
  Vector3,
  WebGLRenderer,
} from 'three';

const CLAY = '#c49a6c';
const PLACE = '#b26b1f';
const WRONG = '#b3261e';

/** A small scene of a module's example: the mesh that comes out, the locators it asks for, and a marked point. */
export class ExampleScene {
  readonly scene = new Scene();
  readonly camera = new PerspectiveCamera(30, 1.6, 0.01, 200);
  readonly renderer: WebGLRenderer;
  private readonly surface = new Mesh(
    new BufferGeometry(),
    new MeshStandardMaterial({ color: CLAY, roughness: 0.75, side: DoubleSide }),
  );
  private readonly places = new Object3D();
  private readonly mark = new Mesh(new SphereGeometry(1, 16, 12), new MeshBasicMaterial({ color: WRONG, depthTest: false }));
  private readonly grid: GridHelper;

  constructor(canvas?: HTMLCanvasElement) {
    this.renderer = new WebGLRenderer({ canvas, antialias: !navigator.webdriver, alpha: true, preserveDrawingBuffer: true });
    this.renderer.setPixelRatio(navigator.webdriver ? 1 : Math.min(2, window.devicePixelRatio));
    const line = new Color(getComputedStyle(document.documentElement).getPropertyValue('--stage-grid').trim() || '#b3936a');
    this.grid = new GridHelper(6, 12, line, line);
    Object.assign(this.grid.material, { transparent: true, opacity: 0.35 });
    const sun = new DirectionalLight('#ffe6c2', 2.1);
    sun.position.set(3, 6, 4);
    const sky = new HemisphereLight('#fff4e0', '#6a4a38', 1.5);
    this.mark.renderOrder = 2;
    this.mark.visible = false;
    this.scene.add(this.surface, this.places, this.mark, this.grid, sun, sky, new AmbientLight('#ffffff', 0.1));
  }

  resize(width: number, height: number): void {
    this.renderer.setSize(width, height, false);
    this.camera.aspect = width / Math.max(1, height);
    this.camera.updateProjectionMatrix();
  }

  /** Takes what is seen. @param marked a point that is marked */
  show(look: ExampleLook, marked?: number): void {
    const { geometry } = this.surface;
    geometry.setAttribute('position', new BufferAttribute(look.positions, 3));
    geometry.setAttribute('normal', new BufferAttribute(look.normals, 3));
    geometry.setIndex(new BufferAttribute(look.triangles, 1));
    geometry.computeBoundingSphere();
    this.places.clear();
    for (const { name, at } of look.places) {
      const place = new Mesh(new OctahedronGeometry(0.1), new MeshBasicMaterial({ color: PLACE, depthTest: false }));
      place.name = name;
      place.renderOrder = 1;
      place.position.set(...at);
      this.places.add(place);
    }
    const isMarked = marked !== undefined && marked * 3 + 2 < look.positions.length;
    this.mark.visible = isMarked;
    if (isMarked) this.mark.position.fromArray(look.positions, marked * 3);
    this.mark.scale.setScalar(0.05);
  }

  /** Puts everything into the view, from a little above. */
  frame(): void {
    const box = new Box3().setFromObject(this.surface).expandByObject(this.places);
    if (box.isEmpty() || !Number.isFinite(box.min.x + box.max.x)) return;
    const middle = box.getCenter(new Vector3());
    const radius = Math.max(0.3, box.getSize(new Vector3()).length() / 2);
    const wide = Math.min(1, this.camera.aspect);
    const away = (radius / Math.sin((this.camera.fov * Math.PI) / 360) / wide) * 0.98;
    this.camera.position.copy(new Vector3(0.62, 0.48, 1).normalize().multiplyScalar(away).add(middle));
    this.camera.lookAt(middle);
    this.grid.position.y = box.min.y;
    this.target.copy(middle);
    this.onFramed?.();
  }

  /** What the camera looks at. */
  readonly target = new Vector3();
  onFramed: (() => void) | undefined;

  render(): void {
    this.renderer.render(this.scene, this.camera);
  }

  dispose(): void {
    this.surface.geometry.dispose();
    this.renderer.dispose();
    this.renderer.forceContextLoss();
  }
}
