export { CornerPopover } from './CornerPopover';
export { BitmapPicture } from './BitmapPicture';
export { fieldFrame } from './field-frame';
export { FileButton } from './FileButton';
export { Facts } from './Facts';
export { FigureLine } from './FigureLine';
export { PanelBoundary } from './PanelBoundary';
export { Pill } from './Pill';
export { readQuantity } from './quantity';
export { useSortSensors } from './sorting';
export { SwitchDot } from './SwitchDot';
export { TextField } from './TextField';
export { ThumbnailButton } from './ThumbnailButton';
export {
  draftScale,
  fitZoom,
  frameMapping,
  layOut,
  MAX_ZOOM,
  MIN_ZOOM,
  reelScale,
  refineScale,
  zoomAt,
  type FramePlace,
  type Layout,
} from './placement';
export { cleanCanvas, containIn, useFrameSize } from './frame-size';
export { hasWideScreen } from './wide-screen';
