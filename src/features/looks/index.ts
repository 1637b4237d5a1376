export { LooksView } from './LooksView';
export { LookSection } from './LookSection';
