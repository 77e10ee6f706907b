export * from './project.ts';
export { makeBuoy } from './harbour.ts';
