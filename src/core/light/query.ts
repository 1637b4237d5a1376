import type { Kernels } from '../kernels';
import type { Look, StationId } from '../look/look';
import type { ContentCache } from './cache';
import type { Images } from './image';
import type { Light } from './light';
import type { Plate } from './plate';
import type { StationContext } from './station';

/** What a station's query may use besides the look and its input. */
export interface QueryContext extends Images {
  cache: ContentCache;
  kernels: Kernels;
  /** The plate that is asked about. Throws {@link SettingError} if it is not open. */
  plate(): Plate;
  /** The plate's light as it is before a station, at a scale. */
  lightBefore(station: StationId, scale: number): Promise<Light>;
  /** What the bench runs on. */
  bench(): StationContext;
  /** What a station would run on. */
  contextOf(station: StationId): StationContext;
}

/**
 * A question about a look, and mostly a plate, that a station's panel asks: a curve for a chart, a picture, a reading.
 * Results are plain data; pictures in them are {@link RgbaImage}s, one level deep.
 */
export type StationQuery<Input, Result> = (
  look: Look,
  input: Input,
  context: QueryContext,
) => Result | Promise<Result>;
