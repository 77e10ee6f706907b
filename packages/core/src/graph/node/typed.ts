import type { InputValue, SettingValue } from '../../project/fields.ts';
import type { NodeRecord } from '../../project/schema.ts';
import type { InputPort, NodeDefinition, Settings } from './definition.ts';

/** Settings of a record with the definition's defaults for what is missing or of the wrong type. */
export function settingsOf(definition: NodeDefinition, node: NodeRecord): Settings {
  const out: Record<string, SettingValue> = {};
  for (const s of definition.settings) {
    const v = node.settings[s.id];
    if (s.type === 'object') out[s.id] = typeof v === 'string' ? v : null;
    else if (s.type === 'choice') out[s.id] = s.options.some((o) => o.value === v) ? (v as string) : s.default;
    else if (s.type in SHAPES) out[s.id] = hasShape(v, SHAPES[s.type]) ? v : s.default;
    else out[s.id] = typeof v === typeof s.default ? v : s.default;
  }
  return out;
}

/** By which field a setting that is an object is known. */
const SHAPES: Readonly<Record<string, string>> = {
  response: 'invert',
  gradient: 'stops',
  names: 'names',
  offsets: 'moves',
  painted: 'columns',
  snapshot: 'drivers',
  matrices: 'matrices',
  ways: 'ways',
};

const hasShape = (v: SettingValue | undefined, field: string): v is SettingValue =>
  typeof v === 'object' && v !== null && field in v;

/** What stands in an input without a wire: what was typed, or the default. */
export function typedInput(port: InputPort, node: NodeRecord): InputValue | undefined {
  // Ports of a formula may be called as something every object has.
  const v = Object.hasOwn(node.inputs, port.id) ? node.inputs[port.id] : undefined;
  return v !== undefined && fitsPort(port, v) ? v : port.default;
}

/** Whether a typed value can stand in a port. */
export function fitsPort(port: InputPort, v: InputValue): boolean {
  const isNumber = typeof v === 'number' || (typeof v === 'object' && !Array.isArray(v));
  if (port.kind === 'toggle') return typeof v === 'boolean';
  if (port.kind === 'vector') return Array.isArray(v) || isNumber;
  if (port.kind === 'value') return Array.isArray(v) || isNumber;
  return isNumber;
}
