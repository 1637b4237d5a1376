export { Shell } from './Shell';
export { theme } from './theme';
