import type { Look } from '../core/look/look';
import type { Rectangle } from '../core/image/rectangle';
import { seenPlaces, type SeenPlaces } from '../core/stations/glass/place';
import { stationsUpTo } from '../core/bench/evaluate';
import type { Subject } from './messages';

/** Where places of a plate are seen in a subject: moved by the lens if the light of it has passed the glass. */
export function placesIn(subject: Subject, look: Look, frame: Rectangle): SeenPlaces | undefined {
  const isBehindGlass =
    subject.kind === 'behind'
      ? stationsUpTo(subject.station).some(({ id }) => id === 'glass')
      : subject.kind === 'final' || subject.kind === 'separation' || subject.kind === 'grain';
  return isBehindGlass ? seenPlaces(look, frame) : undefined;
}
