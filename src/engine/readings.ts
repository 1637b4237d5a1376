import { histogramOf, type Histogram } from '../core/image/histogram';
import { scopesOf, type Scopes } from '../core/image/scopes';
import { distanceAt } from '../core/light/distances';
import { profileLight, type LightProfile } from '../core/measure/measure';
import { circleIn, type Circle } from '../core/measure/queries';
import { blurRadius } from '../core/stations/focus/radius';
import type { Triple } from '../core/color/primaries';
import type { Rectangle } from '../core/image/rectangle';
import type { PixelReading } from './messages';
import { placesIn } from './seen-through-lens';
import type { ShownLight, Views } from './views';

/** A lamp with the height of the picture that its pixels are of. */
export interface ShownLamp extends LightProfile {
  height: number;
}

/** What is shown, or what it is held against. */
export type Side = 'shown' | 'compared';

/** Reads figures out of what was shown last. */
export class Readings {
  constructor(private readonly views: Views) {}

  /** How the light that was shown last is spread over stops. */
  histogram(): Histogram | undefined {
    return this.views.shown && histogramOf(this.views.shown.rgb);
  }

  /** What the picture that was shown last is made of, as the display has it. */
  scopes(side: Side = 'shown'): Scopes | undefined {
    const light = this.views[side];
    return light && scopesOf(light);
  }

  /** The mean scene-linear light of a part of what is shown, or of what it is held against, given as shares of it; undefined if there is none. */
  patch(side: Side, { x, y, width, height }: Rectangle): Triple | undefined {
    const light = this.views[side];
    if (!light) return undefined;
    const [left, top] = [Math.floor(x * light.width), Math.floor(y * light.height)];
    const right = Math.min(light.width, Math.max(left + 1, Math.ceil((x + width) * light.width)));
    const bottom = Math.min(light.height, Math.max(top + 1, Math.ceil((y + height) * light.height)));
    const sums: Triple = [0, 0, 0];
    let count = 0;
    for (let row = Math.max(0, top); row < bottom; row++)
      for (let column = Math.max(0, left); column < right; column++, count++)
        for (const c of [0, 1, 2] as const) sums[c] += light.rgb[c][row * light.width + column]!;
    return count > 0 ? (sums.map((sum) => sum / count) as Triple) : undefined;
  }

  /** The light about the lamp in a circle of the picture that was shown last; undefined if there is none. */
  lamp(circle: Circle): ShownLamp | undefined {
    const light = this.views.shown;
    if (!light) return undefined;
    const { rgb, width, height } = light;
    const { at, pixels } = circleIn(circle, light);
    const found = profileLight({ rgb, width, height, clip: Infinity }, at, pixels);
    return found && { ...found, height };
  }

  /** Values under pixel (x, y) of the full-size picture. */
  pixel(x: number, y: number): PixelReading | undefined {
    const { region } = this.views.shownRegion ?? {};
    const inRegion =
      region && x >= region.x && y >= region.y && x < region.x + region.width && y < region.y + region.height;
    const shown = inRegion ? this.views.shownRegion : this.views.shown;
    if (!shown) return undefined;
    const { picture } = shown.plate;
    if (x < 0 || y < 0 || x >= picture.width || y >= picture.height) return undefined;
    const extent = inRegion ? region : { x: 0, y: 0, width: picture.width, height: picture.height };
    const column = Math.min(shown.width - 1, Math.floor(((x - extent.x) * shown.width) / extent.width));
    const row = Math.min(shown.height - 1, Math.floor(((y - extent.y) * shown.height) / extent.height));
    const at = row * shown.width + column;
    const [sourceX, sourceY] = sourceOf(shown, x, y);
    const depth = distanceAt(shown.plate, shown.look, sourceX, sourceY);
    const blurred = depth !== undefined && shown.look.focus.on;
    return {
      rgb: [shown.rgb[0][at]!, shown.rgb[1][at]!, shown.rgb[2][at]!],
      depth,
      blur: depth === undefined ? undefined : blurred ? 2 * blurRadius(shown.look, shown.plate, 1, depth) : 0,
    };
  }
}

/** The plate's pixel that is seen at one of the picture. */
function sourceOf({ plate, look, subject }: ShownLight, x: number, y: number): [number, number] {
  const { frame } = plate;
  const places = placesIn(subject, look, frame);
  if (!places) return [x, y];
  const [u, v] = places.toPlate([(x + 0.5 - frame.x) / frame.width, (y + 0.5 - frame.y) / frame.height]);
  return [Math.floor(frame.x + u * frame.width), Math.floor(frame.y + v * frame.height)];
}
