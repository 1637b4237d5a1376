export { PrintDialog } from './PrintDialog';
