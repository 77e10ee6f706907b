import { chainSuite } from './suites/chain.ts';
for (const r of chainSuite()) console.log(r.ratio.toFixed(2), r.ours.toFixed(1), r.reference.toFixed(1));
