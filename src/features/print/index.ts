export { PrintDialog } from './PrintDialog';
export { PrintsButton } from './PrintsButton';
