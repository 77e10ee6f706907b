import { sceneChainNode } from '../nodes/bring-in/scene-chain.ts';
import { sceneMesh } from '../nodes/bring-in/scene-mesh.ts';
import { skinNode } from '../nodes/chains/skin.ts';
import { showMesh } from '../nodes/flow/show-mesh.ts';
import type { ObjectRecord } from '../project/kinds/index.ts';
import type { GraphRecord, NodeRecord, WireRecord } from '../project/schema.ts';
import { emptyGraph, newId } from './document.ts';

const TYPES = [sceneMesh, sceneChainNode, skinNode, showMesh];

/** A graph that moves a mesh with weights by a chain. */
export function skinGraph(mesh: ObjectRecord, chain: ObjectRecord): GraphRecord {
  const [from, joints, skin, show] = TYPES.map((type) => newId(type.id));
  const node = (id: string, type: string, position: [number, number], settings: NodeRecord['settings']): NodeRecord => ({
    ...{ id, type, version: 1, title: '', position, inputs: {}, settings, skip: false, probes: [] },
  });
  const wire = (id: string, fromNode: string, port: string, toNode: string): WireRecord => ({
    ...{ id: newId(id), from: { node: fromNode, port }, to: { node: toNode, port }, pins: [] },
  });
  return {
    ...emptyGraph(`Skin of ${mesh.name}`),
    nodes: [
      node(from, sceneMesh.id, [0, 0], { object: mesh.id }),
      node(joints, sceneChainNode.id, [0, 150], { object: chain.id }),
      node(skin, skinNode.id, [230, 40], {}),
      node(show, showMesh.id, [460, 40], { object: mesh.id, name: '' }),
    ],
    wires: [wire('wire', from, 'mesh', skin), wire('wire', joints, 'chain', skin), wire('wire', skin, 'mesh', show)],
  };
}
