export { startStrip, toggleStrip } from './start-strip';
export { StripView } from './StripView';
