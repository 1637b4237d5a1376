export { Viewer } from './Viewer';
export { swapCompared, toggleMeasuring } from './compared';
export { stepPass } from './subjects';
