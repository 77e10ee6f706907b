// Which way imports run: the house has no circles, and each room of core builds on those below it only.

/** Rooms of core from the ground up; none may import what stands above it. */
const CORE = [
  'maths',
  'geometry',
  'project/schema',
  'scene',
  'project/(file|migrations)',
  'graph/node',
  'graph/network',
  'graph/chains',
  'graph/light',
  'graph/evaluate',
  'graph/readouts',
  'edits',
];

const inCore = (room) => `^packages/core/src/${room}[/.]`;

/** @type {import('dependency-cruiser').IConfiguration} */
module.exports = {
  forbidden: [
    {
      name: 'no-circle',
      comment: 'Two files that need each other are one file, or want a third below them.',
      severity: 'error',
      from: {},
      to: { circular: true },
    },
    ...CORE.slice(0, -1).map((room, i) => ({
      name: `core ${room.replace(/[()|]/g, ' ').trim()} builds on what is below it`,
      severity: 'error',
      from: { path: inCore(room) },
      to: { path: [...CORE.slice(i + 1), 'nodes'].map(inCore) },
    })),
    {
      name: 'core animate stands on all the rest',
      comment: 'Poses and hand-outs read and edit projects; nothing of a project needs them.',
      severity: 'error',
      from: { path: '^packages/core/src/(?!animate/|index[.]ts)' },
      to: { path: inCore('animate') },
    },
    {
      name: 'core chains know no graph',
      comment: 'The maths of joints is a library that can be used without a document.',
      severity: 'error',
      from: { path: inCore('chains') },
      to: { path: ['graph', 'nodes', 'scene', 'project', 'edits'].map(inCore) },
    },
    {
      name: 'core paint knows no graph',
      comment: 'A brush works on points and numbers; how they are kept is all it knows of a document.',
      severity: 'error',
      from: { path: inCore('paint') },
      to: { path: ['graph', 'nodes', 'scene', 'edits', 'project/(?!fields)'].map(inCore) },
    },
    {
      name: 'nodes see what a node is',
      comment: 'Nodes know the interface of nodes and the maths, not who evaluates them.',
      severity: 'error',
      from: { path: inCore('nodes') },
      to: { path: ['network', 'chains', 'evaluate', 'readouts'].map((room) => inCore(`graph/${room}`)) },
    },
    {
      name: 'formats, bake and layout know core only',
      severity: 'error',
      from: { path: '^packages/(formats|bake|bench-layout)/src/' },
      to: { path: ['^packages/cli/', '^apps/', '^demo/'] },
    },
    {
      name: 'nobody uses the page',
      severity: 'error',
      from: { path: '^(packages|demo)/' },
      to: { path: '^apps/' },
    },
  ],
  options: {
    tsPreCompilationDeps: true,
    doNotFollow: { path: 'node_modules' },
    exclude: { path: ['\\.test\\.tsx?$', '/testing/', '/dist/', '^node_modules'] },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'types'] },
  },
};
