export { MeasurePanel } from './MeasurePanel';
