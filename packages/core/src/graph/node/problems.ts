import { counted, grouped as whole, several } from '../../words.ts';

/** How bad: an error stops a node; a warning and a note do not. */
export type Severity = 'error' | 'warning' | 'note';

/** What can be wrong with a node or an object, as data; `problemWords` puts it into a sentence. */
export type ProblemData =
  | { code: 'unknown-type'; type: string }
  | { code: 'wall-outside' }
  | { code: 'newer-node'; type: string; version: number }
  | { code: 'input-missing'; port: string; needs: string }
  | { code: 'input-kind'; port: string; got: string; needs: string }
  | { code: 'needs-single'; port: string; count: number }
  | {
      code: 'column-counts';
      first: string;
      firstCount: number;
      second: string;
      secondCount: number;
      origins?: Origins;
    }
  | { code: 'column-owners'; first: string; second: string; count: number }
  | { code: 'column-fit'; port: string; count: number; points: number; on?: string; origins?: Origins }
  | { code: 'formula'; message: string; line: number }
  | { code: 'expression'; port: string; message: string }
  | { code: 'object-missing'; setting: string }
  | { code: 'object-unset'; setting: string; needs: string }
  | { code: 'object-empty'; object: string }
  | { code: 'asset-missing'; object: string }
  | { code: 'loop'; path: string[] }
  | { code: 'frames-many'; most: number }
  | { code: 'waits'; on: string }
  | { code: 'output-gone'; port: string; node: string; output: string }
  | { code: 'not-finite'; port: string; index: number; count: number }
  | { code: 'input-not-finite'; port: string }
  | { code: 'matrix-singular'; what: string; so?: string }
  | { code: 'matrix-flat'; what: string }
  | { code: 'weights-zero'; so: string }
  | { code: 'frozen'; frames: { readonly first: number; readonly last: number } | null }
  | { code: 'snapshot-missing' }
  | { code: 'snapshot-drivers'; taken: number; now: number }
  | { code: 'channel-missing'; channel: string; object: string }
  | { code: 'channel-unset' }
  | { code: 'moves-at-rest'; object: string; metres: number; order?: string }
  | { code: 'face-flat'; face: number }
  | { code: 'aim-nowhere' }
  | { code: 'sheared'; residual: number }
  | { code: 'value-range'; port: string; value: number; used: number; why: string }
  | { code: 'response-constant'; value: number }
  | { code: 'range-empty'; value: number }
  | { code: 'no-weight'; port: string; count: number; on: 'point' | 'face'; beyond: number | undefined }
  | { code: 'none-reached'; radius: number; nearest: number }
  | { code: 'range-turned'; from: string; to: string }
  | { code: 'range-step'; from: string; to: string; value: number }
  | { code: 'mesh-empty'; what?: string }
  | { code: 'pivot-not-finite' }
  | { code: 'no-area' }
  | { code: 'no-inside'; placed: number; count: number }
  | { code: 'two-writers'; object: string; other: string }
  | { code: 'two-carriers'; object: string; other: string; channel?: string }
  | { code: 'limit'; what: string; count: number; most: number }
  | { code: 'attribute-missing'; name: string; known: readonly string[]; near?: string }
  | { code: 'attribute-name'; what: string }
  | { code: 'attribute-count'; name: string; count: number; on: string; elements: number }
  | { code: 'attribute-place'; name: string; on: string; needs: string }
  | { code: 'offsets-count'; made: number; count: number; lost: number }
  | { code: 'painted-count'; made: number; count: number; lost: number }
  | { code: 'paint-type'; name: string; type: string; on: string }
  | { code: 'no-elements'; on: string }
  | { code: 'index-range'; index: number; count: number }
  | { code: 'copies-made-points'; copies: number; points: number }
  | { code: 'curve-missing'; object: string }
  | { code: 'curve-short'; what: string }
  | { code: 'frames-arbitrary' }
  | { code: 'rest-width' }
  | { code: 'not-closed'; what: string }
  | { code: 'sign-needs-faces'; on: string }
  | { code: 'group-empty'; group: string; removed?: boolean }
  | { code: 'target-empty'; what: string }
  | { code: 'locator-flat' }
  | { code: 'attribute-width'; name: string }
  | { code: 'rest-missing'; what: string }
  | { code: 'rest-count'; what: string; now: number; rest: number }
  | { code: 'needs-positive'; port: string; value: number; unit: string; so: string }
  | { code: 'no-radius' }
  | { code: 'no-room'; placed: number; count: number }
  | { code: 'column-objects'; port: string; count: number; objects: number }
  | { code: 'chain-empty'; object: string; removed?: boolean }
  | { code: 'joint-unset'; setting: string }
  | { code: 'joint-missing'; name: string; known: readonly string[] }
  | { code: 'joint-names'; name: string; count: number }
  | { code: 'joint-order'; above: string; below: string }
  | { code: 'bones-no-length'; joints: string }
  | { code: 'chain-straight' }
  | { code: 'target-at-root'; joint: string }
  | { code: 'target-not-finite'; port: string }
  | { code: 'roll-on-line' }
  | { code: 'out-of-reach'; metres: number; near: boolean }
  | { code: 'not-reached'; metres: number; rounds: number }
  | { code: 'limit-excludes-rest'; joints: readonly string[] }
  | { code: 'limits-won'; joints: readonly string[]; metres: number }
  | { code: 'no-turn'; port: string }
  | { code: 'chains-differ'; first: string; second: string }
  | { code: 'joint-flat'; joint: string }
  | { code: 'poses-one'; joint: string }
  | { code: 'weights-off'; points: number; most: number }
  | { code: 'no-weights'; points: number; prefix: string }
  | { code: 'joints-unknown'; names: readonly string[] }
  | { code: 'far-from-joints'; points: number }
  | { code: 'ground-missing'; points: number }
  | { code: 'no-direction'; port: string }
  | { code: 'still-inside'; contacts: number; metres: number }
  | { code: 'bones-not-kept'; bones: number }
  | { code: 'earlier-not-finite'; frames: number }
  | { code: 'kept-short'; share: number; frames: number }
  | { code: 'threw'; message: string };

/** Where two things that do not fit come from, in the order in which the sentence names them. */
export type Origins = readonly { readonly node: string; readonly title: string }[];

/** A problem at a node. */
export type Problem = ProblemData & {
  severity: Severity;
  /** The outputs it is about, where it is not about the node as a whole: it is told while one of them is asked for. */
  readonly about?: readonly string[];
};

/** Whether two problems would be the same sentence on a card. */
export const isSameProblem = (a: Problem, b: Problem): boolean => a.code === b.code && JSON.stringify(a) === JSON.stringify(b);

/** Thrown inside a node's `evaluate` to stop it with a problem. */
export class NodeError extends Error {
  readonly problem: Problem;
  constructor(data: ProblemData) {
    super(data.code);
    this.problem = { ...data, severity: 'error' };
  }
}

/** Thrown by checkpoints when an evaluation is no longer wanted. */
export class Cancelled extends Error {
  constructor() {
    super('Cancelled.');
  }
}

/** Up to six names, and how many more. */
const listed = (names: readonly string[]): string => {
  const shown = names.slice(0, 6).map((n) => `"${n}"`);
  const more = names.length - shown.length;
  return more > 0 ? `${shown.join(', ')} and ${more} more` : shown.join(', ');
};

/** A length as a person writes it. */
const metres = (m: number): string => (m >= 0.01 ? `${Number(m.toPrecision(3))} m` : `${Number((m * 1000).toPrecision(2))} mm`);

/** The one place where problems become sentences: what is wrong, then the remedy. */
export function problemWords(p: ProblemData): string {
  switch (p.code) {
    case 'unknown-type':
      if (p.type.startsWith('module:'))
        return `The module ${p.type.slice('module:'.length)} is not in this project, or contains itself. Its ways and wires are kept; drop its file anywhere to bring it in.`;
      return `This Umberfish does not know the node type "${p.type}". It is kept as it is; a newer version may run it.`;
    case 'wall-outside':
      return 'This belongs inside of a module. Pick cards and choose Make a module, which gives it its walls; or remove this.';
    case 'newer-node':
      return `This node was saved by a newer version (${p.type} ${p.version}). Update Umberfish, or replace the node.`;
    case 'input-missing':
      return `"${p.port}" needs ${p.needs}. Connect a wire to it.`;
    case 'input-kind':
      return `"${p.port}" takes ${p.needs}, but ${p.got} arrives. ${kindRemedy(p.got, p.needs)}`;
    case 'needs-single':
      return `"${p.port}" takes one value for the whole node, but a column of ${counted(p.count, 'value')} arrives. Connect a single value.`;
    case 'column-counts':
      return `"${p.first}" has ${counted(p.firstCount, 'value')}${from(p.origins, 0)}, "${p.second}" has ${whole(p.secondCount)}${from(p.origins, 1)}. Take both from the same geometry.`;
    case 'column-owners':
      return `"${p.first}" and "${p.second}" come from different geometries that happen to have ${counted(p.count, 'element')} each; they are paired by index.`;
    case 'column-fit':
      return `"${p.port}" has ${counted(p.count, 'value')}${from(p.origins, 0)}, the ${p.on === 'copy' ? 'other has' : 'mesh has'} ${counted(p.points, p.on ?? 'point')}${from(p.origins, 1)}. Take both from the same geometry.`;
    case 'formula':
      return `The formula ${p.message}`;
    case 'expression':
      return `The expression in "${p.port}" ${p.message}`;
    case 'object-missing':
      return `The object chosen in "${p.setting}" is no longer in the scene. Choose another in the settings.`;
    case 'object-unset':
      return `No object is chosen in "${p.setting}". Choose ${p.needs} in the settings.`;
    case 'object-empty':
      return `"${p.object}" has no mesh of its own. Choose another object, or read its result.`;
    case 'asset-missing':
      return `The mesh of "${p.object}" is not in this project's data. Import it again to replace it.`;
    case 'loop':
      return `This is part of a loop: ${p.path.join(' → ')}. Remove one of these connections.`;
    case 'output-gone':
      return `"${p.port}" is connected to "${p.output}" of ${p.node}, which is no longer there. Connect another output, or remove the wire.`;
    case 'frames-many':
      return `What is worked out here needs more than ${counted(p.most, 'other frame')} at once. Put fewer At Frame nodes behind one another.`;
    case 'waits':
      return `Waits for "${p.on}", which has no value.`;
    case 'not-finite':
      return `"${p.port}" is not a finite number at index ${whole(p.index)} (${counted(p.count, 'such value')}). Look for a division by zero or a root of a negative number.`;
    case 'input-not-finite':
      return `"${p.port}" is not a finite number. Look for a division by zero or a root of a negative number.`;
    case 'matrix-singular':
      return `${p.what} cannot be inverted (a scale of 0?), so ${p.so ?? 'there is no value'}. Give it a size along every axis.`;
    case 'matrix-flat':
      return `${p.what} cannot be inverted (a scale of 0?), so nothing is undone. Give it a size along every axis.`;
    case 'weights-zero':
      return `All weights are 0, so ${p.so}. Give one of them more than 0.`;
    case 'frozen':
      return `Its object was removed from the scene; this keeps ${p.frames ? `its motion over frames ${whole(p.frames.first)} to ${whole(p.frames.last)}, as it was then` : 'it as it was'}. Choose another object to follow one again.`;
    case 'snapshot-missing':
      return 'It does not know yet where everything stood. Press "Take snapshot now" in the settings.';
    case 'snapshot-drivers':
      return `The snapshot was taken with ${counted(p.taken, 'driver')}, now there ${p.now === 1 ? 'is' : 'are'} ${whole(p.now)}. Press "Take snapshot now" in the settings.`;
    case 'channel-missing':
      return `"${p.object}" has no channel "${p.channel}". Choose another in the settings.`;
    case 'channel-unset':
      return 'No channel is chosen. Choose one in the settings.';
    case 'moves-at-rest':
      return `With everything at rest this puts "${p.object}" ${format(p.metres)} m from where it rests. ${p.order ? `In the order ${p.order} it would stay.` : 'A carrier that is the identity at rest keeps it there.'}`;
    case 'face-flat':
      return `Face ${whole(p.face)} has no area, so nothing can ride it. Choose another place.`;
    case 'aim-nowhere':
      return 'The target is where it stands, so there is no direction to turn to. Move one of them.';
    case 'sheared':
      return `The matrix is sheared, so move, turn and size leave out a part of it (${format(p.residual)} of its size).`;
    case 'value-range':
      return `"${p.port}" is ${format(p.value)}; ${p.why} ${format(p.used)} is used.`;
    case 'response-constant':
      return `The response has one point, so every value becomes ${format(p.value)}. Add a second point.`;
    case 'range-empty':
      return `The from-range begins and ends at ${format(p.value)}, so it acts as a step there. Give it two different ends.`;
    case 'no-weight':
      return p.beyond === undefined
        ? `"${p.port}" is 0 at ${p.count === 1 ? `the only ${p.on}` : `all ${p.count} ${p.on}s`}, so nothing is changed. Give it more than 0 somewhere.`
        : `"${p.port}" is 0 at every ${p.on}: the mesh begins ${metres(p.beyond)} beyond the falloff. Move the falloff, or make it reach farther.`;
    case 'none-reached':
      return `Nothing is within ${metres(p.radius)} of the centre: the mesh begins ${metres(p.nearest)} away. Move the centre, or make it reach farther.`;
    case 'range-turned':
      return `"${p.from}" lies beyond "${p.to}"; it is the same range as with the two exchanged.`;
    case 'range-step':
      return `"${p.from}" and "${p.to}" are both ${format(p.value)}, so it all happens at once there. Give them different places to spread it.`;
    case 'mesh-empty':
      return `${p.what ?? 'The mesh'} has no points. Import or make one with points.`;
    case 'pivot-not-finite':
      return 'The pivot is not a finite place. Choose another pivot, or look for what is not finite before this node.';
    case 'no-area':
      return 'The faces have no area, so there is nowhere to put points. Give the mesh a size.';
    case 'no-inside':
      return `${p.placed === 0 ? 'No place' : `Only ${whole(p.placed)} of ${counted(p.count, 'place')}`} inside the mesh could be found: it has hardly any room inside. Give it a thickness, or scatter on its faces.`;
    case 'two-writers':
      return `The result of "${p.object}" is also made by "${p.other}". Give one of them another object.`;
    case 'two-carriers':
      return p.channel
        ? `"${p.channel}" of "${p.object}" is also driven by "${p.other}". Leave one of them out.`
        : `"${p.object}" is also carried by "${p.other}". Put both into one chain, or leave one out.`;
    case 'limit':
      return `${p.what} would be ${whole(p.count)}; the most is ${whole(p.most)}. Ask for fewer.`;
    case 'attribute-missing': {
      const there = p.known.length > 0 ? `There are: ${p.known.join(', ')}.` : 'The mesh has no attributes.';
      return `There is no attribute "${p.name}".${p.near ? ` Did you mean "${p.near}"?` : ''} ${there}`;
    }
    case 'attribute-name':
      return `${p.what} Type a name of letters, digits and _ in the settings.`;
    case 'attribute-count':
      return `"${p.name}" would get ${counted(p.count, 'value')}, but the mesh has ${counted(p.elements, p.on)}. Take both from the same geometry.`;
    case 'attribute-place':
      return `"${p.name}" is on ${several(p.on)}, but this takes one on ${several(p.needs)}. Move it with Read and Write Attribute, or carry it by number.`;
    case 'offsets-count':
      return `The offsets were made on a mesh of ${counted(p.made, 'point')}; this one has ${whole(p.count)}.${p.lost > 0 ? ` ${whole(p.lost)} of them ${p.lost === 1 ? 'has' : 'have'} no point any more.` : ''} They are used by point number; check them, or clear them in the settings.`;
    case 'paint-type':
      return `"${p.name}" is a ${p.type} on ${several(p.on)}, and the brush paints numbers on points. Paint under another name.`;
    case 'painted-count':
      return `This was painted on a mesh of ${counted(p.made, 'point')}; this one has ${whole(p.count)}.${p.lost > 0 ? ` ${whole(p.lost)} painted ${p.lost === 1 ? 'point is' : 'points are'} not there any more.` : ''} It is used by point number; look at it, and paint over or forget it in the settings.`;
    case 'no-elements':
      return `The mesh has points but no ${several(p.on)}, so nothing can be on them. Choose points, or bring in a mesh with faces.`;
    case 'copies-made-points':
      return `This node needs points, so ${counted(p.copies, 'copy')} ${p.copies === 1 ? 'was' : 'were'} made ${counted(p.points, 'point')}.`;
    case 'curve-missing':
      return `"${p.object}" has no curve. Choose a curve object, or draw one in the stage.`;
    case 'curve-short':
      return `${p.what} needs a curve with a length: at least two points in different places. Draw another point.`;
    case 'frames-arbitrary':
      return 'The curve runs straight up or down and comes out on the other side, so its frames turn half round there; that could as well be the other way round. Choose another up, or frames that turn as little as they can.';
    case 'rest-width':
      return 'With a rest curve only the change of the curve is applied, so the width in the settings does nothing. Set the width of the curve itself, or leave the rest curve open.';
    case 'not-closed':
      return `${p.what} is open somewhere, so nothing is inside it. Close its holes, or use plain distance.`;
    case 'sign-needs-faces':
      return `Only among faces there is an inside: near to ${several(p.on)} the signed distance is the plain one. Choose faces, or use the distance.`;
    case 'group-empty':
      return p.removed
        ? `"${p.group}" was removed from the scene, and nothing is under it any more. Choose another group.`
        : `"${p.group}" has nothing under it. Put objects under the group in the scene list.`;
    case 'target-empty':
      return `There is nothing to be near to: ${p.what} has no such elements. Choose another target, or other elements of it.`;
    case 'locator-flat':
      return 'The locator has a size of 0 along an axis, so its shape holds nothing. Give it a size.';
    case 'attribute-width':
      return `"${p.name}" is not one number per point. Choose an attribute that is, or make one with a formula.`;
    case 'rest-missing':
      return `The ${p.what} has no restPosition. Connect it at rest, or put Remember Rest before what deforms it.`;
    case 'rest-count':
      return `The ${p.what} has ${counted(p.now, 'point')}, at rest it has ${whole(p.rest)}. Take both from the same mesh.`;
    case 'needs-positive':
      return `"${p.port}" is ${format(p.value)}${p.unit ? ` ${p.unit}` : ''}, so ${p.so}. Give it more than 0.`;
    case 'no-radius':
      return 'No radius is above 0, so there is nothing to put a skin round. Give the points a radius.';
    case 'no-room':
      return `There was room for ${whole(p.placed)} of ${counted(p.count, 'point')} at this spacing.`;
    case 'column-objects':
      return `"${p.port}" has ${counted(p.count, 'value')}, the group has ${counted(p.objects, 'object')}. Give one each, or one for all.`;
    case 'index-range':
      return p.count === 0
        ? `There is nothing to pick index ${whole(p.index)} from. Connect something that has elements.`
        : `Index ${whole(p.index)} is outside 0 to ${whole(p.count - 1)}. Choose clamp or wrap, or another index.`;
    case 'chain-empty':
      return p.removed
        ? `"${p.object}" was removed from the scene, and its joints with it. Choose another chain.`
        : `"${p.object}" has no joints. Add joints under it in the scene list.`;
    case 'joint-unset':
      return `No joint is chosen for "${p.setting}". Choose one by name in the settings.`;
    case 'joint-missing':
      return `The chain has no joint "${p.name}". ${p.known.length > 0 ? `It has ${listed(p.known)}. Choose one of them.` : 'Add joints to it.'}`;
    case 'joint-names':
      return `${counted(p.count, 'joint')} are called "${p.name}"; the first is taken. Give each a name of its own.`;
    case 'joint-order':
      return `"${p.below}" does not hang under "${p.above}", so there is nothing between to bend. Choose joints from the root down.`;
    case 'bones-no-length':
      return `${p.joints} stand at one place, so there is no bone to turn; the pose is left as it came in. Move them apart.`;
    case 'chain-straight':
      return 'The joints rest in a straight line, so nothing tells which way they bend; the pose is left as it came in. Connect a roll target, or bend the rest a little.';
    case 'target-at-root':
      return `The target is where "${p.joint}" is, so it has no direction; the pose is left as it came in. Keep the target away from there.`;
    case 'target-not-finite':
      return `What arrives at "${p.port}" is not a finite place; the pose is left as it came in. See what makes it.`;
    case 'roll-on-line':
      return 'The roll target is on the line from root to target, where it tells no direction; the bend of the rest is used. Move it to the side.';
    case 'out-of-reach':
      return `The target is ${metres(p.metres)} ${p.near ? 'nearer than the limb folds' : 'beyond the limb’s reach'}; it goes as far as it can. Move the target, or allow ${p.near ? 'squash' : 'stretch'}.`;
    case 'not-reached':
      return `After ${counted(p.rounds, 'round')} ${metres(p.metres)} are missing to the target. Allow more rounds, or ask less of limits and stiffness.`;
    case 'limit-excludes-rest':
      return `The limits of ${listed(p.joints)} leave out how they rest, so they turn away from it at once. Widen the limits to take in 0°.`;
    case 'limits-won':
      return `The limits of ${listed(p.joints)} hold back the tip’s turn or its roll; the tip is ${metres(p.metres)} from its target. Widen them, or let the tip go along.`;
    case 'no-turn':
      return `"${p.port}" is a point, which has no turn; only its place is used. Connect a matrix to use its turn.`;
    case 'chains-differ':
      return `"${p.first}" and "${p.second}" have other joints, so their poses cannot be mixed. Take both from the same chain.`;
    case 'poses-one':
      return `Two of the poses turn "${p.joint}" alike, or one is its rest, so that it cannot have two corrections at once. Turn one otherwise, or take it away.`;
    case 'joint-flat':
      return `"${p.joint}" has no size along an axis, so what it is moved by cannot be told; it stays as it came in. Give it a size along every axis.`;
    case 'weights-off':
      return `The weights of ${counted(p.points, 'point')} do not sum to 1 (the farthest off by ${p.most.toFixed(3)}); they are taken as shares of their sum.`;
    case 'no-weights':
      return `${counted(p.points, 'point')} ${p.points === 1 ? 'has' : 'have'} no weight of any joint ("${p.prefix} …") and stay where they are. Bind the mesh to the chain first, or paint weights there.`;
    case 'joints-unknown':
      return `The mesh has weights of ${listed(p.names)}, which the chain does not have; they are left out. Take the chain it was bound to.`;
    case 'far-from-joints':
      return `${counted(p.points, 'point')} cannot be reached from any joint inside of the mesh; they take the nearest through the air. See the column "far".`;
    case 'ground-missing':
      return `There is no ground under ${counted(p.points, 'point')}; they are left as they are. Make the ground larger, search deeper, or choose the nearest place.`;
    case 'no-direction':
      return `"${p.port}" has no length, so it tells no direction. Give it one, such as 0, −1, 0.`;
    case 'still-inside':
      return `${counted(p.contacts, 'contact')} ${p.contacts === 1 ? 'stays' : 'stay'} in the ground, the deepest by ${metres(p.metres)}: bending does not lift them that far. Lift what is above, or ask for less clearance.`;
    case 'bones-not-kept':
      return `${counted(p.bones, 'bone')} cannot keep the length on this curve: nothing of it is as far away as that. Use a larger curve, or keep the length along the curve.`;
    case 'earlier-not-finite':
      return `At ${counted(p.frames, 'earlier frame')} the value is not a finite number; the frame after is taken instead. See what makes it there.`;
    case 'kept-short':
      return `${Math.round(p.share * 100)} % of a step is still to come after the ${counted(p.frames, 'frame')} that are kept, and is lost. Keep more frames, or lower lag or overshoot.`;
    case 'threw':
      return `The node stopped: ${p.message} The rest of the graph goes on.`;
  }
}

const from = (origins: Origins | undefined, i: number) => (origins?.[i] ? ` (from ${origins[i].title})` : '');

const format = (n: number) => (Number.isInteger(n) ? whole(n) : String(Number(n.toPrecision(6))).replace('-', '−'));

function kindRemedy(got: string, needs: string): string {
  if (got.includes('xyz') && needs.includes('number')) return 'Take one axis with Split Vector, or its length with Measure.';
  if (got.includes('mesh')) return 'Read its values with Point Values.';
  if (needs.includes('mesh')) return 'Connect a mesh.';
  return 'Connect another output.';
}
