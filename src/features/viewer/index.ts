export { Viewer } from './Viewer';
export { swapCompared } from './compared';
export { stepPass } from './subjects';
