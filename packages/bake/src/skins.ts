import { jointsOf, resolveProject, type Evaluator, type PortRef, type Project } from '@umberfish/core';
import type { WrittenSkin } from '@umberfish/formats';

/** A mesh that a chain of the scene moves: where it comes from, and which chain it is. */
interface FoundSkin {
  readonly name: string;
  readonly chain: string;
  readonly mesh: PortRef;
  readonly joints: PortRef;
}

/** Nodes that move a mesh by a chain of the scene as it stands. @param chains their objects */
export function skinsOf(evaluator: Evaluator, project: Project, chains: ReadonlySet<string>): FoundSkin[] {
  const nodes = resolveProject(evaluator.catalogue, project);
  return [...nodes.values()].flatMap((node): FoundSkin[] => {
    const { skins } = node.definition ?? {};
    const [mesh, joints] = [node.wires.get(skins?.mesh ?? '')?.from, node.wires.get(skins?.chain ?? '')?.from];
    const source = joints && nodes.get(joints.node);
    const takesChain = source?.definition?.settings.find((s) => s.type === 'object' && s.takes === 'chain');
    const chain = takesChain && source?.settings[takesChain.id];
    if (!mesh || !joints || typeof chain !== 'string' || !chains.has(chain)) return [];
    const shown = [...nodes.values()].find((n) => n.graph === node.graph && n.definition?.shows?.(n.settings).object);
    const object = shown?.definition?.shows?.(shown.settings).object;
    const name = project.objects.find((o) => o.id === object)?.name ?? node.graph.name;
    return [{ name, chain, mesh, joints }];
  });
}

/** Them as they are written, with what they are at a frame: the mesh is one that does not move by itself. */
export function writtenSkins(evaluator: Evaluator, project: Project, found: readonly FoundSkin[], frame: number): WrittenSkin[] {
  const { value } = evaluator.evaluate({ project, frame, wanted: found.flatMap((f) => [f.mesh, f.joints]) });
  return found.flatMap((f): WrittenSkin[] => {
    const [mesh, chain] = [value(f.mesh), value(f.joints)];
    if (mesh?.form !== 'geometry' || chain?.form !== 'chain') return [];
    const joints = jointsOf(project.objects, f.chain).map((j) => j.id);
    return joints.length === chain.chain.count ? [{ name: f.name, mesh: mesh.mesh, chain: chain.chain, joints }] : [];
  });
}
