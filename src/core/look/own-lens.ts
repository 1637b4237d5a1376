import type { LensDesign } from '../optics/lens/design';
import { OWN_DESIGN } from '../stations/ghosts/settings';
import type { Look } from './look';

/** The look with a lens design of its own, which its ghosts come from. */
export function withOwnLens(look: Look, own: LensDesign): Look {
  return { ...look, ghosts: { ...look.ghosts, design: OWN_DESIGN, own } };
}
