import type { Catalogue } from '../graph/node/catalogue.ts';
import { standingNodes } from './standing.ts';
import type { DialValue, PoseValues } from '../project/animation.ts';
import type { KeyTrack } from '../project/fields.ts';
import type { Project } from '../project/schema.ts';
import { keysIn } from '../scene/keys.ts';
import { objectsById } from '../scene/objects.ts';
import { typedInput } from '../graph/node/definition.ts';
import { blendPoses } from './blend-poses.ts';
import { readPose } from './pose-values.ts';
import type { Reach } from './reach.ts';

/** The frames of the keys before and after a frame; undefined where one is missing. */
function around(track: KeyTrack | undefined, frame: number): readonly [number, number] | undefined {
  const before = track?.keys.findLast((k) => k.frame < frame);
  const after = track?.keys.find((k) => k.frame > frame);
  return before && after && [before.frame, after.frame];
}

/**
 * The pose between the keys before and after a frame, of everything that has both: at 0 as at the key before, at 1 as at
 * the one after, beyond them further on. What has no keys on both sides is left out.
 */
export function betweenKeys(catalogue: Catalogue, project: Project, frame: number, reach: Reach, favour: number): PoseValues {
  const known = objectsById(project.objects);
  const ends: [PoseValues, PoseValues] = [emptyPose(), emptyPose()];
  const put = (side: 0 | 1, of: 'objects' | 'dials', id: string, key: string, value: DialValue) => {
    const list = ends[side][of] as Record<string, Record<string, DialValue>>;
    (list[id] ??= {})[key] = value;
  };
  const poses = new Map<number, PoseValues>();
  const poseAt = (f: number): PoseValues => {
    let pose = poses.get(f);
    if (!pose) poses.set(f, (pose = readPose(catalogue, project, f, reach)));
    return pose;
  };
  for (const [id, channels] of reach.objects) {
    const object = known.get(id);
    if (!object) continue;
    for (const channel of channels) {
      const frames = around(keysIn(object.animated[channel]), frame);
      frames?.forEach((f, side) => put(side as 0 | 1, 'objects', id, channel, poseAt(f).objects[id][channel]));
    }
  }
  const nodes = standingNodes(catalogue, project);
  for (const [id, ports] of reach.dials) {
    const node = nodes.get(id);
    for (const port of node?.inputs ?? []) {
      if (!node || !ports.includes(port.id)) continue;
      const value = typedInput(port, node.record);
      const tracks = (Array.isArray(value) ? value : [value]).map((part: unknown) => around(keysIn(part), frame));
      const [first] = tracks.filter((t) => t !== undefined);
      first?.forEach((f, side) => {
        const at = poseAt(f).dials[id]?.[port.id] as DialValue | undefined;
        if (at !== undefined) put(side as 0 | 1, 'dials', id, port.id, at);
      });
    }
  }
  return blendPoses(project, ends[0], ends[1], favour);
}

const emptyPose = (): PoseValues => ({ objects: {}, dials: {} });
