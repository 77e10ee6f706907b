/** Told to the stage: frame what is picked, or all. */
export const FRAME_EVENT = 'frame-picked';
