import { mkdirSync, writeFileSync } from 'node:fs';
import { CATALOGUE, catalogueOf, writeProjectFile } from '@umberfish/core';
import { tidyGraph } from '@umberfish/bench-layout/tidy';
import { writeGlb, writeMtl, writeObj } from '@umberfish/formats';
import { makeBuoy } from './harbour.ts';
import { makeLanternQuay } from './project.ts';
import { makeStarters } from './starters.ts';
import { recordResults } from './recording.ts';

// Writes the demo project, what its results are recorded to be, and a mesh to try importing with. With `--tidy` only where
// the cards of all graphs stand, which the demo is then made with.
const here = new URL('..', import.meta.url);
const { project, assets } = makeLanternQuay();
const starters = makeStarters();
if (process.argv.includes('--tidy')) {
  const inside = starters.map((s) => s.module.graph);
  const types = catalogueOf(CATALOGUE, project);
  const all: Record<string, unknown> = {};
  for (const graph of [...project.graphs, ...inside]) {
    const { places, pins } = await tidyGraph(types, graph);
    const bent = [...pins].filter(([, p]) => p.length > 0);
    all[graph.id] = { nodes: Object.fromEntries(places), pins: Object.fromEntries(bent) };
  }
  writeFileSync(new URL('places.json', here), `${JSON.stringify(all)}\n`);
} else {
  writeFileSync(new URL('lantern-quay.json', here), writeProjectFile(project, assets));
  writeFileSync(new URL('recorded.json', here), `${JSON.stringify(recordResults(project, assets), null, 1)}\n`);
  writeFileSync(new URL('starters.json', here), `${JSON.stringify(starters, null, 1)}\n`);
  mkdirSync(new URL('meshes/', here), { recursive: true });
  const buoy = [{ name: 'Buoy', mesh: makeBuoy() }];
  writeFileSync(new URL('meshes/buoy.obj', here), writeObj(buoy, 'buoy.mtl'));
  writeFileSync(new URL('meshes/buoy.mtl', here), writeMtl(buoy));
  writeFileSync(new URL('meshes/buoy.glb', here), await writeGlb(buoy));
  for (const a of project.assets) console.log(`${a.name}: ${a.points} points, ${a.faces} faces`);
}
