import { film } from './film';
import { focus } from './focus';
import { ghosts } from './ghosts';
import { glass } from './glass';
import { plate } from './plate';
import { pupil } from './pupil';
import { veil } from './veil';

/**
 * The stations in light's own order. The look's schema, ids, switches, number keys and the order of evaluation follow from
 * this list; a new station is one line here.
 */
export const STATIONS = [plate, focus, pupil, veil, ghosts, glass, film] as const;
