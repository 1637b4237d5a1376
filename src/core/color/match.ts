import { luminance, type Triple } from './primaries';

/** What makes one picture like another in a place that is the same in both. */
export interface Match {
  /** Stops. */
  exposure: number;
  /** Gain of each channel; the luminance of the place stays. */
  white: Triple;
}

/** Gains over this are no white any more, but a mistake. */
const MOST_GAIN = 1000;

/**
 * The exposure and the gains under which one mean of scene-linear light becomes another: von Kries' rule on the channels of the
 * picture, luminance by exposure alone. Undefined where either is black in a channel.
 */
export function matchPatches(picture: Triple, reference: Triple): Match | undefined {
  if (![...picture, ...reference].every((value) => value > 0 && Number.isFinite(value))) return undefined;
  const [is, was] = [luminance(...picture), luminance(...reference)];
  const white = picture.map((value, c) => value / is / (reference[c]! / was)) as Triple;
  if (white.some((gain) => gain > MOST_GAIN || gain < 1 / MOST_GAIN)) return undefined;
  return { exposure: Math.log2(is / was), white };
}
