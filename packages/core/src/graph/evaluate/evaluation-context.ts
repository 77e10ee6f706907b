import { curveOf, kindOf, assetIdOf, restCurveOf, setsOf } from '../../project/kinds/index.ts';
import { curvesOf } from '../../curves/curves.ts';
import type { Mesh } from '../../geometry/mesh.ts';
import { memoize } from '../../memo.ts';
import { SHOWN_PORT } from '../node/definition.ts';
import type { ObjectRecord } from '../../project/kinds/index.ts';
import type { RemovedRecord } from '../../project/schema.ts';
import { channelValue } from '../../scene/channels.ts';
import { withPointSets } from '../../scene/point-sets.ts';
import type { PackedDriven } from '../../scene/packed-driven.ts';
import { jointsOf, sceneChain, type ChainPose } from '../../scene/joints.ts';
import { membersOf } from '../../scene/hierarchy.ts';
import { removedById } from '../../scene/removed.ts';
import { localMatrix, parentMatrix, worldMatrix, type Driven } from '../../scene/world.ts';
import type { ObjectView } from '../node/definition.ts';
import { drivenObjects, drivenOutline, resultUnit, type Moment, type OutlinedUnit } from './outline.ts';
import type { Plan } from './plan.ts';
import type { RunContext, RunServices } from './run-unit.ts';
import type { Store } from './store.ts';

/** What the runs of one evaluation share: services, what was made so far, and objects as nodes see them. */
export class EvaluationContext implements RunContext {
  readonly runs: RunContext['runs'] = new Map();
  readonly now: RunServices['now'];
  readonly floats: RunServices['floats'];
  readonly room: RunServices['room'];
  readonly doubles: RunServices['doubles'];
  readonly giveBack: RunServices['giveBack'];
  readonly integers: RunServices['integers'];

  constructor(
    services: RunServices,
    readonly checkpoint: () => void,
    readonly plan: Plan,
    readonly store: Store,
    private readonly asset: (id: string) => Mesh | undefined,
  ) {
    this.now = services.now;
    this.floats = services.floats;
    this.room = services.room;
    this.doubles = services.doubles;
    this.giveBack = services.giveBack;
    this.integers = services.integers;
  }

  view(id: string, moment: Moment): ObjectView | undefined {
    const object = moment.objects.get(id);
    return object && new View(this, object, moment, this.asset);
  }

  removed(id: string): RemovedRecord | undefined {
    return removedById(this.plan.outline.project.removed).get(id);
  }

  /** What a unit put out as `shown`, as far as it was made. */
  shown(unit: OutlinedUnit) {
    return this.store.get(this.plan.unit(unit.index))?.values.get(SHOWN_PORT);
  }

  /** What graphs put into an object at a moment, as far as it was made. */
  driven(object: string, moment: Moment): Driven | undefined {
    const all = drivenOutline(this.plan.outline, object, moment.number);
    if (!all || all.by.length === 0) return undefined;
    const { light } = this.plan;
    if (all.kernel >= 0 && light.hasMade(all.kernel)) return { carrier: light.made(all.kernel) };
    let carrier: Driven['carrier'];
    const channels: Record<string, number> = {};
    for (const { unit, channels: parts } of all.by) {
      const made = this.shown(unit);
      const mine = made?.form === 'driven' ? made.driven.get(object) : undefined;
      for (const part of parts) {
        if (part === undefined) carrier = mine?.carrier ?? carrier;
        else if (mine?.channels?.[part] !== undefined) channels[part] = mine.channels[part];
      }
    }
    return { ...(carrier ? { carrier } : {}), channels };
  }

  /** What graphs put into all objects at the frame asked for, as far as it was made. */
  allDriven(): PackedDriven {
    const { outline, light, moments } = this.plan;
    const { objects, kernels } = drivenObjects(outline);
    const carriers = new Float64Array(16 * objects.length);
    const carried: string[] = [];
    const channels: [string, Record<string, number>][] = [];
    for (let i = 0; i < objects.length; i++) {
      const object = objects[i];
      const at = 16 * carried.length;
      if (kernels[i] >= 0 && light.copyMade(kernels[i], carriers, at)) {
        carried.push(object);
        continue;
      }
      const parts = this.driven(object, moments[0]);
      if (parts?.carrier) {
        carriers.set(parts.carrier, at);
        carried.push(object);
      }
      if (parts?.channels && Object.keys(parts.channels).length > 0) channels.push([object, parts.channels]);
    }
    return { carried, carriers: carriers.subarray(0, 16 * carried.length), channels: new Map(channels) };
  }
}

/** An object at a moment; most of it is worked out when it is asked for, since most nodes ask for little. */
class View implements ObjectView {
  constructor(
    private readonly context: EvaluationContext,
    private readonly object: ObjectRecord,
    private readonly moment: Moment,
    private readonly asset: (id: string) => Mesh | undefined,
  ) {}

  private readonly driven = (of: string) => this.context.driven(of, this.moment);

  get id() {
    return this.object.id;
  }
  get name() {
    return this.object.name;
  }
  get source() {
    const mesh = assetIdOf(this.object);
    return withPointSets(mesh === null ? undefined : this.asset(mesh), setsOf(this.object));
  }
  get isRemoved() {
    return this.context.removed(this.object.id) !== undefined;
  }
  get lostSource() {
    const mesh = assetIdOf(this.object);
    return mesh !== null && this.asset(mesh) === undefined;
  }
  get result() {
    const made = resultUnit(this.context.plan.outline, this.object.id, this.moment.number);
    const shown = made && this.context.shown(made);
    return shown?.form === 'geometry' ? shown.mesh : undefined;
  }
  get curve() {
    const curve = curveOf(this.object);
    return curve ? curvesInOwnSpace(curve) : undefined;
  }
  get restCurve() {
    const curve = restCurveOf(this.object);
    return curve ? curvesInOwnSpace(curve) : undefined;
  }
  get members() {
    return this.views(this.under());
  }
  get children() {
    return this.views(this.under().filter((o) => o.parent === this.object.id));
  }
  chain(pose: ChainPose) {
    return sceneChain(this.context.plan.outline.project.objects, this.moment.objects, this.object.id, pose, this.driven);
  }
  get joints() {
    const { objects } = this.context.plan.outline.project;
    return jointsOf(objects, this.object.id).map((j) => {
      const object = this.moment.objects.get(j.id) ?? j;
      const channels = localMatrix(object, 'channels', this.driven);
      return { id: j.id, name: j.name, channels, restChannels: localMatrix(object, 'rest') };
    });
  }
  get world() {
    return worldMatrix(this.moment.objects, this.object.id, 'channels', this.driven);
  }
  get rest() {
    return worldMatrix(this.moment.objects, this.object.id, 'rest');
  }
  get parent() {
    return parentMatrix(this.moment.objects, this.object, 'channels', this.driven);
  }
  get restChannels() {
    return localMatrix(this.object, 'rest');
  }
  get pivot() {
    return this.object.pivot;
  }
  channel(channel: string) {
    return this.driven(this.object.id)?.channels?.[channel] ?? channelValue(this.object, channel);
  }

  private under(): ObjectRecord[] {
    const { objects } = this.context.plan.outline.project;
    return kindOf(this.object).holds ? membersOf(objects, this.object.id) : [];
  }

  private views(of: readonly ObjectRecord[]): ObjectView[] {
    return of.flatMap((o) => this.context.view(o.id, this.moment) ?? []);
  }
}

/** Curves of a record, made once, so that what is derived from them is kept. */
const curvesInOwnSpace = memoize(curvesOf);
