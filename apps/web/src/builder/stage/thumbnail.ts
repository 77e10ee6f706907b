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
    gl.render(scene, camera);
    const canvas = document.createElement('canvas');
    canvas.width = WIDTH;
    canvas.height = HEIGHT;
    const draw = canvas.getContext('2d');
    if (!draw) return;
    const css = getComputedStyle(document.documentElement);
    const dusk = draw.createLinearGradient(0, 0, 0, HEIGHT);
    dusk.addColorStop(0, css.getPropertyValue('--stage-high'));
    dusk.addColorStop(1, css.getPropertyValue('--stage-low'));
    draw.fillStyle = dusk;
    draw.fillRect(0, 0, WIDTH, HEIGHT);
    const { width, height } = gl.domElement;
    const scale = Math.max(WIDTH / width, HEIGHT / height);
    draw.drawImage(gl.domElement, (WIDTH - width * scale) / 2, (HEIGHT - height * scale) / 2, width * scale, height * scale);
    void autosave.keepThumbnail(project.id, canvas.toDataURL('image/jpeg', 0.82));
  }, WAIT_IN_MS);
}
