import { resolveGraph, summaryAt } from '@umberfish/core';
import { useStore } from '../../../state/store.ts';
import { TextField } from '../../../ui/text-field.tsx';
import type { FieldProps, SettingEditor } from './field.ts';
import { catalogue } from '../../../state/catalogue.ts';

function TextSetting({ graph, node, setting, value, write }: FieldProps<'text'>) {
  const attributes = useAttributeNames(graph, node, setting.attributeOf);
  const joints = useJointNames(graph, node, setting.jointOf);
  const offers = attributes ?? joints;
  return <TextField label={setting.label} value={String(value ?? '')} onChange={(v) => write(v)} offers={offers} />;
}

/** Attributes of the mesh that arrives at a port, for settings that name one. */
function useAttributeNames(graph: FieldProps<'text'>['graph'], node: FieldProps<'text'>['node'], port: string | undefined) {
  const source = port && resolveGraph(catalogue(), graph).get(node.id)?.wires.get(port)?.from;
  const known = useStore((s) => (source ? summaryAt(s.evaluation.reports.get(source.node), source.port)?.attributes : undefined));
  return known?.map((a) => ({ value: a.name, about: `${a.type} on ${a.on}s` }));
}

/** Joints of the chain that arrives at a port, for settings that name one. */
function useJointNames(graph: FieldProps<'text'>['graph'], node: FieldProps<'text'>['node'], port: string | undefined) {
  const source = port && resolveGraph(catalogue(), graph).get(node.id)?.wires.get(port)?.from;
  const known = useStore((s) => (source ? summaryAt(s.evaluation.reports.get(source.node), source.port)?.names : undefined));
  return known?.map((value) => ({ value, about: 'joint' }));
}

export const textEditor: SettingEditor<'text'> = { field: TextSetting };
