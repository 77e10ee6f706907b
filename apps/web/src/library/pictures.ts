import type { Dials, ModuleFile } from '@umberfish/core';
import { ExampleScene } from './example-scene.ts';
import { keyOf, lookAway } from './looking.ts';

const WIDTH = 320;
const HEIGHT = 136;

/** Pictures that were made, by what they show; or why there is none. */
const made = new Map<string, Promise<string>>();
let scene: ExampleScene | undefined;

/**
 * A picture of a module's example, as an address of an image; made once.
 * @throws Error with a sentence
 */
export function pictureOf(file: ModuleFile, dials: Dials, frame: number, marked?: number): Promise<string> {
  const name = JSON.stringify([keyOf(file), dials, frame, marked]);
  let picture = made.get(name);
  if (!picture) {
    picture = draw(file, dials, frame, marked);
    // What went wrong may go right the next time.
    picture.catch(() => made.delete(name));
    made.set(name, picture);
  }
  return picture;
}

async function draw(file: ModuleFile, dials: Dials, frame: number, marked?: number): Promise<string> {
  const look = await lookAway(file, dials, frame);
  scene ??= new ExampleScene();
  scene.resize(WIDTH, HEIGHT);
  scene.show(look, marked);
  scene.frame();
  scene.render();
  return scene.renderer.domElement.toDataURL('image/png');
}
