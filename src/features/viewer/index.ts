export { Viewer } from './Viewer';
