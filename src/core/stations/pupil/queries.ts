import type { StationQuery } from '../../light/query';
import { pupilPictures as paint, type PupilPictures } from './pictures';

/** A look's pupil and the image of a point through it. */
const pupilPictures: StationQuery<object, PupilPictures> = (look, _input, { image, kernels }) =>
  paint(look, { image }, kernels.diffraction);

export const pupilQueries = { pupilPictures };
