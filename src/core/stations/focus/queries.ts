import { SettingError } from '../../errors';
import type { RgbaImage } from '../../image/rgba';
import type { QueryContext, StationQuery } from '../../light/query';
import type { Plate } from '../../light/plate';
import type { Look } from '../../look/look';
import { blurFacts, type BlurFacts } from './blur-facts';
import { depthReading, distancePlane } from './radius';
import { depthWarnings } from '../../light/depth';
import {
  depthHistogram,
  depthPicture,
  distanceAt,
  hasDepth,
  shareAt,
  type DepthHistogram,
} from '../../light/distances';

/** Pixels around a place that are asked for its distance. */
const PICK_RADIUS = 3;
const DEPTH_PICTURE_WIDTH = 592;

/** A depth pass as it is read; without a pass that can be read there is no picture and no histogram. */
export interface DepthSurvey {
  picture: RgbaImage | undefined;
  histogram: DepthHistogram | undefined;
  /** What may be wrong with it, in words for the person. */
  warnings: string[];
}

/** A distance in metres, and for a normalised depth the share of the way from near to far. */
export interface PickedDistance {
  distance: number;
  share?: number;
}

/** What a depth pass gives, or nothing where the look reads none. */
function unlessNoDepth<T>(read: () => T): T | undefined {
  try {
    return read();
  } catch (error) {
    if (error instanceof SettingError) return undefined;
    throw error;
  }
}

function cachedHistogram(
  plate: Plate,
  look: Look,
  { cache }: QueryContext,
): Promise<DepthHistogram | undefined> {
  const key = `${plate.id} ${JSON.stringify([depthReading(look), look.camera])}`;
  return cache.getOrReplace('depth histogram', key, () =>
    Promise.resolve(unlessNoDepth(() => depthHistogram(plate, look))),
  );
}

const depthSurvey: StationQuery<object, DepthSurvey> = async (look, _input, context) => {
  const plate = context.plate();
  return {
    picture: unlessNoDepth(() => depthPicture(plate, look, DEPTH_PICTURE_WIDTH)),
    histogram: await cachedHistogram(plate, look, context),
    warnings: depthWarnings(plate, look),
  };
};

/** How a plate's distances are spread; undefined without depth. */
const depthSpread: StationQuery<object, DepthHistogram | undefined> = (look, _input, context) =>
  cachedHistogram(context.plate(), look, context);

/** The distance of what is at a place of the full-size picture: the median of a small disc, so that edges do no harm. */
const pickDistance: StationQuery<{ x: number; y: number }, PickedDistance> = (look, { x, y }, context) => {
  const plate = context.plate();
  const found: { distance: number; x: number; y: number }[] = [];
  for (let dy = -PICK_RADIUS; dy <= PICK_RADIUS; dy++)
    for (let dx = -PICK_RADIUS; dx <= PICK_RADIUS; dx++) {
      if (dx * dx + dy * dy > PICK_RADIUS * PICK_RADIUS) continue;
      const distance = distanceAt(plate, look, x + dx, y + dy);
      if (distance !== undefined) found.push({ distance, x: x + dx, y: y + dy });
    }
  if (found.length === 0)
    throw plate.depth
      ? new SettingError('this place lies outside the picture', { todo: 'Click on the picture itself' })
      : new SettingError(`${plate.name} has no depth`, { todo: 'Bring in a depth pass' });
  const middle = found.sort((a, b) => a.distance - b.distance)[found.length >> 1]!;
  const share = shareAt(plate, look, middle.x, middle.y);
  return { distance: middle.distance, ...(share !== undefined && { share }) };
};

/** Pixels across at which it is looked for what blurs. */
const SURVEY_WIDTH = 320;

/** What of the picture blurs, and why it may not; undefined without depth. */
const blurSurvey: StationQuery<object, BlurFacts | undefined> = async (look, _input, context) => {
  const plate = context.plate();
  if (!hasDepth(plate, look)) return undefined;
  const scale = Math.min(1, SURVEY_WIDTH / plate.picture.width);
  // Kept as long as the depth is read in the same way: the camera changes more often.
  const distances = await distancePlane(look, scale, { plate, cache: context.cache });
  return blurFacts(look, plate, distances);
};

export const focusQueries = { depthSurvey, depthSpread, pickDistance, blurSurvey };
