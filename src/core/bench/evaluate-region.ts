import type { Look, StationId } from '../look/look';
import { focus, radiusPlane } from '../stations/focus/run';
import { veil } from '../stations/veil/run';
import { cropPlate } from './crop';
import { evaluate } from './evaluate';
import { mapRgb, withSeparation, type Light, type Rgb } from './light';
import type { Plate } from './plate';
import { cutRegion, type Region } from './region';
import type { StationContext } from './station';

/** Pixels around a region that are computed with it, besides what blur brings in. */
const MARGIN = 48;
/** The size at which what comes from farther away is computed: this many pixels, about. */
const FAR_PIXELS = 60_000;

/**
 * Sends a rectangle of a plate's full-size pixels along the bench by itself. What lies around it gives its blur as far as
 * blur reaches; the veil of everything farther away, which is smooth there, is taken from a small picture of the whole.
 */
export async function evaluateRegion(
  look: Look,
  context: StationContext,
  region: Region,
  behind?: StationId,
): Promise<Light> {
  const { plate } = context;
  const { width, height } = plate.picture;
  const step = Math.max(1, Math.ceil(Math.sqrt((width * height) / FAR_PIXELS)));
  const reach = MARGIN + Math.ceil(await blurReach(look, context, 1 / step));
  const window = grown(region, reach, step, plate);
  const part = await context.cache.take(
    `${plate.id} part ${JSON.stringify(window)}`,
    () => cropPlate(plate, window),
    ({ picture }) => [...picture.channels.values()].reduce((sum, { samples }) => sum + samples.byteLength, 0),
  );
  const isPart = window.width < width || window.height < height;
  const needsFar = isPart && veil.on(look) && behind !== 'plate' && behind !== 'focus';
  const far = needsFar ? await farVeil(look, context, window, step) : undefined;
  const { light } = await evaluate(
    look,
    { ...context, plate: part },
    {
      scale: 1,
      behind,
      ...(far && { after: { veil: (veiled: Light) => withFar(veiled, far, step) } }),
    },
  );
  return cutRegion(light, { ...region, x: region.x - window.x, y: region.y - window.y });
}

/** The largest blur in the picture, in full-size pixels. */
async function blurReach(look: Look, context: StationContext, scale: number): Promise<number> {
  if (!focus.on(look)) return 0;
  let most = 0;
  for (const radius of await radiusPlane(look, scale, context)) most = Math.max(most, Math.abs(radius));
  return most / scale;
}

/** The region with so much around it, its edges on the edges of the small picture's pixels. */
function grown({ x, y, width, height }: Region, by: number, step: number, { picture }: Plate): Region {
  const from = (value: number): number => Math.max(0, Math.floor((value - by) / step) * step);
  const to = (value: number, most: number): number => Math.min(most, Math.ceil((value + by) / step) * step);
  const [left, top] = [from(x), from(y)];
  return {
    x: left,
    y: top,
    width: to(x + width, picture.width) - left,
    height: to(y + height, picture.height) - top,
  };
}

/** Light per pixel of the small picture that the veil brings into a window from outside it. */
interface FarVeil {
  rgb: Rgb;
  width: number;
  height: number;
  /** Where the window begins, in its pixels. */
  left: number;
  top: number;
  key: string;
}

async function farVeil(look: Look, context: StationContext, window: Region, step: number): Promise<FarVeil> {
  const { plate } = context;
  const { light } = await evaluate(look, context, { scale: 1 / step, behind: 'focus' });
  const { width, height } = light;
  const [sx, sy] = [plate.picture.width / width, plate.picture.height / height];
  const inside = {
    left: Math.round(window.x / sx),
    top: Math.round(window.y / sy),
    right: Math.round((window.x + window.width) / sx),
    bottom: Math.round((window.y + window.height) / sy),
  };
  const dark = (plane: Float32Array): Float32Array => {
    const out = plane.slice();
    for (let y = inside.top; y < inside.bottom; y++)
      out.fill(0, y * width + inside.left, y * width + inside.right);
    return out;
  };
  const base = mapRgb(light.total, dark);
  const key = `${light.key} but ${JSON.stringify(window)}`;
  const around: Light = { ...light, base, separations: [], total: base, key };
  const veiled = await context.cache.latest(
    'far veil',
    `${key} ${JSON.stringify(veil.reads(look))}`,
    async () => veil.run(around, look, { ...context, separate: false, draft: true }),
  );
  const rgb = mapRgb(veiled.light.total, (plane, c) => plane.map((value, i) => value - base[c]![i]!));
  return { ...{ rgb, width, height, left: window.x / sx, top: window.y / sy }, key };
}

/** Adds the far veil to the light of a window, smoothly between the small picture's pixels. */
function withFar(light: Light, { rgb, width, height, left, top, key }: FarVeil, step: number): Light {
  const held = (value: number, most: number): number => Math.min(most, Math.max(0, value));
  const planes = mapRgb(rgb, (plane) => {
    const out = new Float32Array(light.width * light.height);
    for (let y = 0; y < light.height; y++) {
      const v = held(top + (y + 0.5) / step - 0.5, height - 1);
      const row = Math.min(height - 2, Math.floor(v));
      for (let x = 0; x < light.width; x++) {
        const u = held(left + (x + 0.5) / step - 0.5, width - 1);
        const column = Math.min(width - 2, Math.floor(u));
        const at = row * width + column;
        const upper = plane[at]! + (u - column) * (plane[at + 1]! - plane[at]!);
        const lower = plane[at + width]! + (u - column) * (plane[at + width + 1]! - plane[at + width]!);
        out[y * light.width + x] = upper + (v - row) * (lower - upper);
      }
    }
    return out;
  });
  return { ...withSeparation(light, { name: 'veil.far', rgb: planes }), key: `${light.key} far ${key}` };
}
