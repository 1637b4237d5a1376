import { FILMS } from '../stations/film/starting-points';
import { FLARES } from '../stations/ghosts/starting-points';
import { LENSES } from '../stations/glass/starting-points';
import { PUPILS } from '../stations/pupil/starting-points';
import { VEILS } from '../stations/veil/starting-points';
import { assignSetting, defaultLook, type Look } from './look';
import {
  applyFilm,
  applyFlare,
  applyGlass,
  applyPupil,
  applyVeil,
  type StartingPoint,
} from './starting-point';
import type { WholeLook } from './whole-look';

/** A whole look by the starting points of its stations and what is set besides. */
interface Recipe {
  id: string;
  name: string;
  note: string;
  pupil: string;
  veil: string;
  flare?: string;
  glass: string;
  film: string;
  settings?: readonly string[];
}

const RECIPES: readonly Recipe[] = [
  {
    id: 'clean-prime',
    name: 'Clean prime',
    note: 'A good lens of today: hardly more than the lens that it is',
    ...{ pupil: 'nine', veil: 'clean', glass: 'modern', film: 'clean' },
  },
  {
    id: 'harbour-night',
    name: 'Harbour at night',
    note: 'Lamps that glow and throw fourteen fine spikes, one glint across the middle, a visible grain',
    ...{ pupil: 'seven', veil: 'open', flare: 'glint', glass: 'modern', film: 'tungsten' },
  },
  {
    id: 'first-triplet',
    name: 'First triplet',
    note: 'Three bare glasses: a broad veil, ten straight spikes, white ghosts, dark corners',
    ...{ pupil: 'five', veil: 'old', flare: 'bare', glass: 'classic', film: 'day' },
  },
  {
    id: 'morning-mist',
    name: 'Morning mist',
    note: 'A mist filter before soft film: lights lie in a haze that leaves the shadows their detail',
    ...{ pupil: 'seven', veil: 'mist', glass: 'modern', film: 'day' },
  },
  {
    id: 'salt-glass',
    name: 'Salt on the glass',
    note: 'A front element that nobody has wiped: irregular glows that show where light falls on it',
    ...{ pupil: 'six', veil: 'dirty', flare: 'violet', glass: 'classic', film: 'day' },
  },
  {
    id: 'squeezed',
    name: 'Squeezed',
    note: 'A cylinder before the lens: level streaks through the lamps, barrel distortion, night film',
    ...{ pupil: 'round', veil: 'anamorphic', flare: 'wide', glass: 'anamorphic', film: 'tungsten' },
  },
  {
    id: 'slide-noon',
    name: 'Slide at noon',
    note: 'Hard, clear and full of colour',
    ...{ pupil: 'six', veil: 'clean', glass: 'modern', film: 'slide' },
  },
  {
    id: 'family-album',
    name: 'Family album',
    note: 'A print that has hung in the light, through a lens that has hung with it',
    ...{ pupil: 'five', veil: 'tired', flare: 'amber', glass: 'classic', film: 'faded' },
  },
  {
    id: 'silver',
    name: 'Silver',
    note: 'Black and white in one layer, with the glow of thick film about every lamp',
    ...{ pupil: 'nine', veil: 'open', glass: 'darkroom', film: 'mono' },
  },
  {
    id: 'stocking',
    name: 'Stocking',
    note: 'A mesh behind the lens: a soft glow with crosses in it',
    ...{ pupil: 'mesh', veil: 'mesh', glass: 'classic', film: 'day' },
  },
  {
    id: 'wide-street',
    name: 'Wide street',
    note: 'A wide lens at night: a row of blue ghosts, colour at the edges, night film',
    ...{ pupil: 'seven', veil: 'open', flare: 'wide', glass: 'wide', film: 'tungsten' },
  },
  {
    id: 'long-mirror',
    name: 'Long mirror',
    note: 'A mirror in the middle of the pupil: rings about every point, in focus and out of it',
    ...{ pupil: 'mirror', veil: 'clean', glass: 'modern', film: 'clean' },
  },
];

function pointOf(points: readonly StartingPoint[], id: string): StartingPoint {
  const point = points.find((one) => one.id === id);
  if (!point) throw new Error(`there is no starting point ${id}`);
  return point;
}

function lookOf({ pupil, veil, flare, glass, film, settings = [] }: Recipe): Look {
  const veiled = applyPupil(applyVeil(defaultLook(), pointOf(VEILS, veil)), pointOf(PUPILS, pupil));
  const flared = flare === undefined ? veiled : applyFlare(veiled, pointOf(FLARES, flare));
  const ground = applyGlass(flared, pointOf(LENSES, glass));
  return settings.reduce(assignSetting, applyFilm(ground, pointOf(FILMS, film)));
}

/** Whole looks that come with the application, each within what real lenses and films do. */
export const SHIPPED_LOOKS: readonly (WholeLook & { id: string })[] = RECIPES.map((recipe) => ({
  id: recipe.id,
  name: recipe.name,
  note: recipe.note,
  look: lookOf(recipe),
}));
