import type { Camera, Scene, WebGLRenderer } from 'three';
import { store } from '../../state/store.ts';
import { autosave } from '../../storage/index.ts';

const WIDTH = 480;
const HEIGHT = 300;
const WAIT_IN_MS = 2500;

let timer = 0;

/** Soon after the picture came to rest, keeps a small one of it for the shelf. */
export function keepThumbnail(gl: WebGLRenderer, scene: Scene, camera: Camera): void {
  window.clearTimeout(timer);
  timer = window.setTimeout(() => {
    const { project } = store.getState().project;
    if (!project || !gl.domElement.isConnected) return;
    const picture = pictureOf(gl, scene, camera, WIDTH, HEIGHT);
    if (picture) void autosave.keepThumbnail(project.id, picture);
  }, WAIT_IN_MS);
}

/** A small picture of a stage, as a data URL; undefined where the browser draws none. */
export function pictureOf(gl: WebGLRenderer, scene: Scene, camera: Camera, wide: number, high: number): string | undefined {
  gl.render(scene, camera);
  const canvas = document.createElement('canvas');
  canvas.width = wide;
  canvas.height = high;
  const draw = canvas.getContext('2d');
  if (!draw) return undefined;
  const css = getComputedStyle(document.documentElement);
  const dusk = draw.createLinearGradient(0, 0, 0, high);
  dusk.addColorStop(0, css.getPropertyValue('--stage-high'));
  dusk.addColorStop(1, css.getPropertyValue('--stage-low'));
  draw.fillStyle = dusk;
  draw.fillRect(0, 0, wide, high);
  const { width, height } = gl.domElement;
  const scale = Math.max(wide / width, high / height);
  draw.drawImage(gl.domElement, (wide - width * scale) / 2, (high - height * scale) / 2, width * scale, height * scale);
  return canvas.toDataURL('image/jpeg', 0.82);
}

/** Takes a picture of the stage that is shown. */
export const stagePicture: { take: ((wide: number, high: number) => string | undefined) | null } = { take: null };
