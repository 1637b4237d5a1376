import type { StationQuery } from '../../light/query';
import { pupilPictures as paint, type PupilPictures } from './pictures';

/** A look's pupil and the image of a point through it. */
const pupilPictures: StationQuery<object, PupilPictures> = (look, _input, { image, diffraction }) =>
  paint(look, { image }, diffraction);

export const pupilQueries = { pupilPictures };
