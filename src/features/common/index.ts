export { BitmapPicture } from './BitmapPicture';
export { Pill } from './Pill';
export { useSortSensors } from './sorting';
export { SwitchDot } from './SwitchDot';
export { TextField } from './TextField';
