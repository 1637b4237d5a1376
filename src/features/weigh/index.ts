export { WeighTable } from './WeighTable';
