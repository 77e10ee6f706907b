import { useThree } from '@react-three/fiber';
import { useEffect, useMemo, useState } from 'react';
import {
  BackSide,
  Box3,
  Color,
  DoubleSide,
  Mesh,
  MeshBasicMaterial,
  MeshDepthMaterial,
  OrthographicCamera,
  PlaneGeometry,
  Scene,
  ShaderMaterial,
  UniformsUtils,
  Vector3,
  WebGLRenderTarget,
  type Object3D,
  type WebGLRenderer,
} from 'three';
import { HorizontalBlurShader } from 'three/addons/shaders/HorizontalBlurShader.js';
import { VerticalBlurShader } from 'three/addons/shaders/VerticalBlurShader.js';

/** Pixels of the shadow, either way. */
const SIZE = 512;
/** Nothing higher above the ground than this share of the width of all that stands there gives a shadow. */
const REACH = 0.12;
/** The shadow where something touches the ground. */
const DARKEST = 0.6;
/** How far it is blurred, as a share of the whole width, one time after the other. */
const BLURS = [0.04, 0.02];
/** So long after the last change it is drawn anew (ms). */
const RESTS_AFTER = 200;
/** Only what is on this layer gives a shadow. */
const LAYER = 7;

interface Props {
  /** What stands on the stage, by id, and which of it gives a shadow. */
  meshes: ReadonlyMap<string, Object3D>;
  solid: readonly { readonly id: string }[];
  /** Whether the picture goes on moving. */
  playing: boolean;
}

/**
 * Soft shadows on the ground of what is near to it: drawn when the picture rests, and gone while it changes. It tells the page
 * whether there is one.
 */
export function GroundShadow({ meshes, solid, playing }: Props) {
  const gl = useThree((s) => s.gl);
  const scene = useThree((s) => s.scene);
  const invalidate = useThree((s) => s.invalidate);
  const pass = useMemo(() => new ShadowPass(), []);
  const [drawn, setDrawn] = useState<unknown>(null);
  const root = gl.domElement.closest<HTMLElement>('[data-stage]');
  useEffect(() => () => pass.dispose(), [pass]);
  useEffect(() => {
    if (playing) return;
    const timer = window.setTimeout(() => {
      pass.draw(
        gl,
        scene,
        solid.flatMap((i) => meshes.get(i.id) ?? []),
      );
      setDrawn(solid);
      if (root) root.dataset.shadow = pass.plane.scale.x > 0 ? 'drawn' : 'none';
      invalidate();
    }, RESTS_AFTER);
    return () => window.clearTimeout(timer);
  }, [pass, gl, scene, root, meshes, solid, playing, invalidate]);
  return <primitive object={pass.plane} visible={drawn === solid && !playing} />;
}

/** Looks at the scene from below the ground, darker the nearer something is, and blurs what it sees. */
class ShadowPass {
  readonly plane: Mesh<PlaneGeometry, MeshBasicMaterial>;
  private readonly seen = new WebGLRenderTarget(SIZE, SIZE);
  private readonly blurred = new WebGLRenderTarget(SIZE, SIZE);
  private readonly camera = new OrthographicCamera();
  private readonly depth = new MeshDepthMaterial();
  private readonly blurs = [HorizontalBlurShader, VerticalBlurShader].map(
    (s) => new ShaderMaterial({ ...s, uniforms: UniformsUtils.clone(s.uniforms), depthTest: false }),
  );
  private readonly sheet = new Mesh(new PlaneGeometry(2, 2));
  private readonly blurScene = new Scene().add(this.sheet);
  private readonly blurCamera = new OrthographicCamera(-1, 1, 1, -1, -1, 1);

  constructor() {
    const material = new MeshBasicMaterial({ map: this.seen.texture, transparent: true, depthWrite: false, toneMapped: false });
    this.plane = new Mesh(new PlaneGeometry(1, 1), material);
    // Seen from below, left and right are as from above where the plane is turned over.
    this.plane.rotation.x = Math.PI / 2;
    this.plane.material.side = BackSide;
    this.plane.renderOrder = -2;
    this.plane.frustumCulled = false;
    this.camera.layers.set(LAYER);
    this.depth.onBeforeCompile = (shader) => {
      shader.fragmentShader = shader.fragmentShader.replace(
        'gl_FragColor = vec4( vec3( 1.0 - fragCoordZ ), opacity );',
        `float nearness = 1.0 - fragCoordZ;
        gl_FragColor = vec4( vec3( 0.11, 0.07, 0.05 ), nearness * nearness * ${DARKEST.toFixed(3)} );`,
      );
    };
    this.depth.depthTest = true;
    this.depth.side = DoubleSide;
  }

  draw(gl: WebGLRenderer, scene: Scene, objects: readonly Object3D[]): void {
    const box = new Box3();
    for (const o of objects) box.union(new Box3().setFromObject(o));
    this.plane.scale.setScalar(0);
    const size = box.getSize(new Vector3());
    const width = Math.max(size.x, size.z) * 1.15;
    const reach = width * REACH;
    if (!(width > 0) || !Number.isFinite(width) || box.min.y > reach || box.max.y < 0) return;
    const centre = box.getCenter(new Vector3());
    this.plane.position.set(centre.x, 0, centre.z);
    this.plane.scale.setScalar(width);
    this.place(centre, width, reach);

    const before = { target: gl.getRenderTarget(), colour: gl.getClearColor(new Color()), alpha: gl.getClearAlpha() };
    const { background, overrideMaterial } = scene;
    for (const o of objects) o.traverse((part) => part.layers.enable(LAYER));
    scene.background = null;
    scene.overrideMaterial = this.depth;
    gl.setClearColor(0x1c120d, 0);
    gl.setRenderTarget(this.seen);
    gl.clear();
    gl.render(scene, this.camera);
    scene.overrideMaterial = overrideMaterial;
    scene.background = background;
    for (const by of BLURS) this.blur(gl, by);
    gl.setRenderTarget(before.target);
    gl.setClearColor(before.colour, before.alpha);
  }

  dispose(): void {
    for (const part of [this.seen, this.blurred, this.depth, this.plane.geometry, this.plane.material, this.sheet.geometry])
      part.dispose();
    for (const blur of this.blurs) blur.dispose();
  }

  /** Below the ground, looking up, its own up along −z, as the plane lies. */
  private place(centre: Vector3, width: number, reach: number): void {
    const { camera } = this;
    camera.left = camera.bottom = -width / 2;
    camera.right = camera.top = width / 2;
    camera.near = 0;
    camera.far = reach;
    camera.position.set(centre.x, -1e-4, centre.z);
    camera.up.set(0, 0, 1);
    camera.lookAt(centre.x, 1, centre.z);
    camera.updateProjectionMatrix();
    camera.updateMatrixWorld();
  }

  private blur(gl: WebGLRenderer, by: number): void {
    const ways = [
      { material: this.blurs[0], from: this.seen, to: this.blurred, size: 'h' },
      { material: this.blurs[1], from: this.blurred, to: this.seen, size: 'v' },
    ];
    for (const { material, from, to, size } of ways) {
      material.uniforms.tDiffuse.value = from.texture;
      material.uniforms[size].value = by / 4;
      this.sheet.material = material;
      gl.setRenderTarget(to);
      gl.clear();
      gl.render(this.blurScene, this.blurCamera);
    }
  }
}
