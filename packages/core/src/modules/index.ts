export { catalogueOf, circleThrough, MOST_DEEP } from './definitions.ts';
export { expandProject } from './expand.ts';
export { graphAt, graphWithNode, idInGraph, insideOf, moduleAt, pathOfInside, rootGraph } from './views.ts';
export * from './file.ts';
export * from './versions.ts';
export { wallsOf } from './walls.ts';
