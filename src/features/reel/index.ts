export { ReelPanel } from './ReelPanel';
export { togglePlay } from './use-player';
export { stepFrame, stepKey, togglePointedKey, toggleReel } from './steps';
