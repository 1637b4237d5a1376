export { Viewer } from './Viewer';
export { swapCompared, toggleMeasuring } from './compared';
export { stepPass } from './subjects';
export { DRAFT_BYTES, frameDrafts } from './frame-drafts';
