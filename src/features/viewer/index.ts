export { Viewer } from './Viewer';
export { stepPass } from './subjects';
