export { BitmapPicture } from './BitmapPicture';
export { fieldFrame } from './field-frame';
export { FigureLine } from './FigureLine';
export { Pill } from './Pill';
export { useSortSensors } from './sorting';
export { SwitchDot } from './SwitchDot';
export { TextField } from './TextField';
