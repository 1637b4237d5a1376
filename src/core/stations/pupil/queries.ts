import type { StationQuery } from '../../light/query';
import { pupilPictures as paint, type PupilPictures } from './pictures';

/** A look's pupil and the image of a point through it. */
const pupilPictures: StationQuery<object, PupilPictures> = (look, _input, { image, parallel }) =>
  paint(look, { image }, parallel);

export const pupilQueries = { pupilPictures };
