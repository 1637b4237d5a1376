export { BitmapPicture } from './BitmapPicture';
