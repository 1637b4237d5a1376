import type { StationView } from '../station-view';
import { FilmGlyph } from './FilmGlyph';

export const filmView: StationView = {
  id: 'film',
  Glyph: FilmGlyph,
  rayHeight: () => 2,
  figure: ({ look: { film } }) => film.view,
};
