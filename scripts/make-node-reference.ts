import { writeFileSync } from 'node:fs';
import { nodeReference } from './node-reference.ts';

writeFileSync(new URL('../docs/nodes.md', import.meta.url), nodeReference());
