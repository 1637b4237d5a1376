export { BitmapPicture } from './BitmapPicture';
export { Pill } from './Pill';
export { useSortSensors } from './sorting';
export { TextField } from './TextField';
