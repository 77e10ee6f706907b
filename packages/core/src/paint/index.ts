export * from './painted.ts';
export { BRUSH_FADES, Seen, type BrushFade, type PaintSurface } from './brush.ts';
export * from './stroke.ts';
export * from './share-out.ts';
export * from './partners.ts';
export * from './mirror-numbers.ts';
