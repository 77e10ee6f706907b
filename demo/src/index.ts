export * from './project.ts';
export { makeBuoy } from './harbour.ts';
export { makeStarters } from './starters.ts';
