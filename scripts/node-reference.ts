import {
  KIND_TAGS,
  NODES,
  settingsOf,
  type InputPort,
  type NodeDefinition,
  type NodeRecord,
  type OutputPort,
  type Settings,
} from '@umberfish/core';

const blank = (type: string): NodeRecord => ({
  id: 'x',
  type,
  version: 1,
  title: '',
  position: [0, 0],
  inputs: {},
  settings: {},
  skip: false,
  probes: [],
});

/** Every port a node can have, over all values of its choices and toggles taken one at a time. */
function allPorts<P extends InputPort | OutputPort>(d: NodeDefinition, of: (s: Settings) => readonly P[]): P[] {
  const base = settingsOf(d, blank(d.id));
  const variants: Settings[] = [base];
  for (const s of d.settings) {
    if (s.type === 'choice') for (const o of s.options) variants.push({ ...base, [s.id]: o.value });
    if (s.type === 'toggle') variants.push({ ...base, [s.id]: true }, { ...base, [s.id]: false });
  }
  const found = new Map<string, P>();
  for (const v of variants) for (const p of of(v)) if (!found.has(`${p.id} ${p.label}`)) found.set(`${p.id} ${p.label}`, p);
  return [...found.values()];
}

function standard(port: InputPort): string {
  if (port.default === undefined) return 'needs a wire';
  const d = port.default;
  if (typeof d === 'object' && !Array.isArray(d) && 'expression' in d) return `\`${d.expression}\``;
  return `${Array.isArray(d) ? d.join(' ') : String(d)}${port.unit ? ` ${port.unit}` : ''}`;
}

/** The reference page of all nodes, from their definitions. */
export function nodeReference(): string {
  const lines = ['# Node reference', '', 'Made from the definitions by `npm run docs`; do not edit by hand.', ''];
  for (const group of [...new Set(NODES.map((n) => n.group))]) {
    lines.push(`## ${group}`, '');
    for (const d of NODES.filter((n) => n.group === group)) {
      lines.push(`### ${d.title}`, '', d.summary, '');
      const inputs = allPorts(d, d.inputs);
      if (inputs.length > 0)
        lines.push(
          '| input | type | stands at | |',
          '|---|---|---|---|',
          ...inputs.map(
            (p) => `| ${p.label} | ${KIND_TAGS[p.kind]}${p.uniform ? ', one for all' : ''} | ${standard(p)} | ${p.help} |`,
          ),
          '',
        );
      if (d.settings.length > 0) {
        lines.push('| setting | | |', '|---|---|---|');
        for (const s of d.settings)
          lines.push(
            `| ${s.label} | ${s.type === 'choice' ? s.options.map((o) => o.label).join('; ') : s.type === 'toggle' ? 'yes or no' : s.type} | ${s.help} |`,
          );
        lines.push('');
      }
      const outputs = allPorts(d, d.outputs);
      if (outputs.length > 0)
        lines.push(
          '| output | type | |',
          '|---|---|---|',
          ...outputs.map((p) => `| ${p.label} | ${KIND_TAGS[p.kind]} | ${p.help} |`),
          '',
        );
    }
  }
  return lines.join('\n');
}
