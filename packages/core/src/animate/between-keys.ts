import type { Catalogue } from '../graph/node/catalogue.ts';
import { typedInput } from '../graph/node/typed.ts';
import type { DialValue, PoseValues } from '../project/animation.ts';
import type { Project } from '../project/schema.ts';
import { arrivalOf, keysIn } from '../scene/keys.ts';
import { objectsById } from '../scene/objects.ts';
import { blendPoses } from './blend-poses.ts';
import { dialAt } from './dials.ts';
import type { Reach } from './reach.ts';
import { standingNodes } from './standing.ts';

/** The key before a frame, and what the way to the one after it arrives at; undefined where one of them is missing. */
function around(source: unknown, frame: number): readonly [number, number] | undefined {
  const keys = keysIn(source)?.keys;
  const before = keys?.findLast((k) => k.frame < frame);
  const after = keys?.find((k) => k.frame > frame);
  return before && after && [before.value, arrivalOf(after)];
}

/**
 * The pose between the keys before and after a frame, of everything that has both: at 0 as at the key before, at 1 as the way
 * to the one after arrives, beyond them further on. What has no keys on both sides is left out; of three numbers those without
 * stay as they are.
 */
export function betweenKeys(catalogue: Catalogue, project: Project, frame: number, reach: Reach, favour: number): PoseValues {
  const known = objectsById(project.objects);
  const ends: [PoseValues, PoseValues] = [emptyPose(), emptyPose()];
  const put = <T extends DialValue>(of: 'objects' | 'dials', id: string, key: string, values: readonly [T, T]) =>
    values.forEach((value, side) => {
      const list = ends[side][of] as Record<string, Record<string, DialValue>>;
      (list[id] ??= {})[key] = value;
    });
  for (const [id, channels] of reach.objects) {
    for (const channel of channels) {
      const values = around(known.get(id)?.animated[channel], frame);
      if (values) put('objects', id, channel, values);
    }
  }
  const nodes = standingNodes(catalogue, project);
  for (const [id, ports] of reach.dials) {
    const node = nodes.get(id);
    for (const port of node?.inputs ?? []) {
      if (!node || !ports.includes(port.id)) continue;
      const value = typedInput(port, node.record);
      const now = dialAt(project, node.record, port, frame);
      if (!Array.isArray(value) || !Array.isArray(now)) {
        const values = around(value, frame);
        if (values) put('dials', id, port.id, values);
        continue;
      }
      const parts = value.map((part: unknown) => around(part, frame));
      if (parts.every((part) => part === undefined)) continue;
      const triple = (side: 0 | 1) => parts.map((part, i) => part?.[side] ?? now[i]) as unknown as DialValue;
      put('dials', id, port.id, [triple(0), triple(1)]);
    }
  }
  return blendPoses(project, ends[0], ends[1], favour);
}

const emptyPose = (): PoseValues => ({ objects: {}, dials: {} });
