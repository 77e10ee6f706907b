import { mkdirSync, writeFileSync } from 'node:fs';
import { writeProjectFile } from '@umberfish/core';
import { writeGlb, writeMtl, writeObj } from '@umberfish/formats';
import { makeBuoy } from './harbour.ts';
import { makeLanternQuay } from './project.ts';
import { makeStarters } from './starters.ts';
import { recordResults } from './recording.ts';

// Writes the demo project, what its results are recorded to be, and a mesh to try importing with.
const here = new URL('..', import.meta.url);
const { project, assets } = makeLanternQuay();
writeFileSync(new URL('lantern-quay.json', here), writeProjectFile(project, assets));
writeFileSync(new URL('recorded.json', here), `${JSON.stringify(recordResults(project, assets), null, 1)}\n`);
writeFileSync(new URL('starters.json', here), `${JSON.stringify(makeStarters(), null, 1)}\n`);
mkdirSync(new URL('meshes/', here), { recursive: true });
const buoy = [{ name: 'Buoy', mesh: makeBuoy() }];
writeFileSync(new URL('meshes/buoy.obj', here), writeObj(buoy, 'buoy.mtl'));
writeFileSync(new URL('meshes/buoy.mtl', here), writeMtl(buoy));
writeFileSync(new URL('meshes/buoy.glb', here), await writeGlb(buoy));
for (const a of project.assets) console.log(`${a.name}: ${a.points} points, ${a.faces} faces`);
