import data from '../data/lenses.json';
import { parseLensDesign, type LensDesign } from './design';

/** The lens designs that come with the program, by their names. */
export const LENS_DESIGNS: ReadonlyMap<string, LensDesign> = new Map(
  data.lenses.map((design) => [design.id, parseLensDesign(design, design.id)]),
);
