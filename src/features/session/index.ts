export { askBench } from './ask';
export { chooseFile, chooseFileForLarge, unlessGivenUp } from './choose-file';
export { dropOlder } from './bring-in';
export { download } from './download';
export { bringInLens, bringInLights } from './ghost-files';
export { FileDrop, useFileChooser } from './file-drop';
export { errorLine, notify, reportError, setNotify } from './notices';
export {
  benchLook,
  chooseVersion,
  openEntry,
  referenceId,
  REFERENCE_LOOK,
  removeImage,
  removePlate,
  removeReference,
  renderId,
  setRole,
  syncEngine,
  tryAgain,
} from './open-plates';
export { useMattes, useOtherElements, usePlates, type PlateCard } from './plates';
export { lookAfterOriginals, readAnew, useChangedFiles } from './changed-files';
export { useChoice } from './choices';
export { isOpen } from './engine-plates';
export { useKept } from './kept';
export { stopWatching, useWatchedFolder, watchFolder } from './watch-folder';
export { takeFrameCameras, takeSceneCamera } from './frame-cameras';
export { filesAt, holdFrame } from './hold-frame';
export { knownNearbyLights, nearbyKeys, nearbyLights, sightHeld, type LookOverTime } from './nearby-lights';
export { goTo, passBy, reelPlayed } from './playhead';
export { useSeat } from './seats';
export { DEMOS } from './demos';
export { openDemo, openEarlier, packCurrentShot, startSession } from './session';
export {
  bringBackProof,
  editProof,
  lastRemovedProof,
  proofPicture,
  proofThumbnail,
  putBack,
  removeProof,
  saveProof,
} from './proofs';
export {
  bringBackLook,
  dropLook,
  editLook,
  exportLook,
  followedChange,
  lastRemovedLook,
  replaceLook,
  savePresentLook,
  takeFollowed,
  useLooks,
} from './looks';
