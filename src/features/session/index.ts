export { download } from './download';
export { FileDrop, useFileChooser } from './file-drop';
export { usePlates } from './plates';
export {
  errorLine,
  openDemo,
  packCurrentShot,
  removePlate,
  reportError,
  setNotify,
  startSession,
} from './session';
