export { download } from './download';
export { FileDrop, useFileChooser } from './file-drop';
export { errorLine, reportError, setNotify } from './notices';
export {
  benchLook,
  chooseVersion,
  closeInEngine,
  openForWipe,
  referenceId,
  REFERENCE_LOOK,
  removePlate,
  removeReference,
  setRole,
} from './open-plates';
export { usePlates, type PlateCard } from './plates';
export { openDemo, packCurrentShot, startSession } from './session';
