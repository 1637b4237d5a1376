export { RealityCheck } from './RealityCheck';
