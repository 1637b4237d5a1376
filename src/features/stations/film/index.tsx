import type { StationView } from '../station-view';
import { FilmGlyph } from './FilmGlyph';
import { FilmPanel } from './FilmPanel';

export const filmView: StationView = {
  id: 'film',
  Glyph: FilmGlyph,
  rayHeight: () => 2,
  figure: ({ look: { film } }) => {
    if (film.grain.on && film.grain.amount > 0)
      return `grain ${Number((100 * film.grain.amount).toFixed(1))} %`;
    return film.view === 'lut' ? 'table' : film.view;
  },
  Panel: FilmPanel,
  covers: ['film'],
};
