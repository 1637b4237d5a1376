import { bilinearSampler } from '../image/bilinear';
import { clamp } from '../image/clamp';
import { pictureBytes } from '../image/picture';
import type { Rectangle } from '../image/rectangle';
import { cropPlate } from '../light/crop';
import { withSeparation, type Light } from '../light/light';
import { mapRgb, type Rgb } from '../image/rgb';
import { cutRegion } from '../light/region';
import type { StationContext, StationEffect } from '../light/station';
import type { Look, StationId } from '../look/look';
import { contextOf, effectsOf, evaluate, stationsUpTo } from './evaluate';

/** Pixels around a region that are computed with it, besides what blur brings in. */
const MARGIN = 48;
/** Approximate number of pixels of the small picture that light from afar is computed on. */
const FAR_PIXELS = 60_000;

/**
 * Sends a rectangle of a plate's full-size pixels along the bench by itself. What lies around it gives its blur as far as
 * effects with a finite reach carry light; what scatter brings in from farther away, which is smooth there, is taken from
 * a small picture of the whole.
 */
export async function evaluateRegion(
  look: Look,
  context: StationContext,
  region: Rectangle,
  behind?: StationId,
): Promise<Light> {
  const { plate } = context;
  const { width, height } = plate.picture;
  const effects = effectsOf(stationsUpTo(behind));
  if (effects.some(({ effect }) => effect.isActive(look) && effect.needsWhole?.(look))) {
    const { light } = await evaluate(look, context, { scale: 1, behind });
    return cutRegion(light, region);
  }
  const step = Math.max(1, Math.ceil(Math.sqrt((width * height) / FAR_PIXELS)));
  const { margin, wide } = await reachOf(look, context, 1 / step, behind);
  const window = growRegion(region, MARGIN + Math.ceil(margin * step), step, plate.picture);
  const part = await context.cache.getOrCompute(
    `${plate.id} part ${JSON.stringify(window)}`,
    () => cropPlate(plate, window),
    ({ picture }) => pictureBytes(picture),
  );
  const isPart = window.width < width || window.height < height;
  const after: Partial<Record<StationId, (light: Light) => Light>> = {};
  if (isPart)
    for (const { id, before, effect } of wide) {
      const far = await farLight(look, context, window, step, { id, before, effect });
      after[id] = (light) => addFarLight(light, far, step);
    }
  const { light } = await evaluate(
    look,
    { ...context, plate: part, wholePlate: plate },
    { scale: 1, behind, after },
  );
  return cutRegion(light, { ...region, x: region.x - window.x, y: region.y - window.y });
}

/** An effect whose reach is the whole picture, and the station before it. */
interface WideEffect {
  id: StationId;
  before: StationId;
  effect: StationEffect;
}

/** How far the effects on the way carry light: the sum of the finite reaches, in pixels at the scale, and the others. */
async function reachOf(
  look: Look,
  context: StationContext,
  scale: number,
  behind: StationId | undefined,
): Promise<{ margin: number; wide: WideEffect[] }> {
  let margin = 0;
  const wide: WideEffect[] = [];
  let before: StationId = 'plate';
  for (const { id, effect, slot } of effectsOf(stationsUpTo(behind))) {
    if (effect.isActive(look)) {
      const reach = await effect.reach(look, scale, context);
      if (Number.isFinite(reach)) margin += reach;
      else wide.push({ id, before, effect });
    }
    if (slot === '') before = id;
  }
  return { margin, wide };
}

/** The region with so many pixels around it, its edges on the edges of the small picture's pixels. */
function growRegion(
  { x, y, width, height }: Rectangle,
  by: number,
  step: number,
  picture: { width: number; height: number },
): Rectangle {
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

/** Light per pixel of the small picture that an effect brings into a window from outside it. */
interface FarLight {
  name: string;
  rgb: Rgb;
  width: number;
  height: number;
  /** Where the window begins, in its pixels. */
  left: number;
  top: number;
  key: string;
}

async function farLight(
  look: Look,
  context: StationContext,
  window: Rectangle,
  step: number,
  { id, before, effect }: WideEffect,
): Promise<FarLight> {
  const { plate } = context;
  const { light } = await evaluate(look, context, { scale: 1 / step, behind: before });
  const { width, height } = light;
  const [sx, sy] = [plate.picture.width / width, plate.picture.height / height];
  const rightEdge = Math.round((window.x + window.width) / sx);
  const bottom = Math.round((window.y + window.height) / sy);
  const withoutWindow = (plane: Float32Array): Float32Array => {
    const out = plane.slice();
    for (let y = Math.round(window.y / sy); y < bottom; y++)
      out.fill(0, y * width + Math.round(window.x / sx), y * width + rightEdge);
    return out;
  };
  const base = mapRgb(light.total, withoutWindow);
  const key = `${light.key} but ${JSON.stringify(window)}`;
  const around: Light = { ...light, base, separations: [], total: base, key };
  const outcome = await context.cache.getOrReplace(
    `far ${id}`,
    `${key} ${JSON.stringify(effect.reads(look, context))}`,
    async () => effect.run(around, look, contextOf(id, look, { ...context, separate: false, draft: true })),
  );
  const rgb = mapRgb(outcome.light.total, (plane, c) => plane.map((value, i) => value - base[c][i]!));
  return { name: `${id}.far`, rgb, width, height, left: window.x / sx, top: window.y / sy, key };
}

/** Adds light from afar to that of a window, interpolated between the small picture's pixels. */
function addFarLight(
  light: Light,
  { name, rgb, width, height, left, top, key }: FarLight,
  step: number,
): Light {
  const planes = mapRgb(rgb, (plane) => {
    const sample = bilinearSampler(plane, width, height);
    const out = new Float32Array(light.width * light.height);
    for (let y = 0; y < light.height; y++) {
      const v = clamp(top + (y + 0.5) / step - 0.5, 0, height - 1);
      for (let x = 0; x < light.width; x++)
        out[y * light.width + x] = sample(left + (x + 0.5) / step - 0.5, v);
    }
    return out;
  });
  return { ...withSeparation(light, { name, rgb: planes }), key: `${light.key} far ${key}` };
}
