import { balanceMatrix } from '../../color/balance';
import { viewOf, type View } from '../../color/view';
import { SettingError } from '../../errors';
import { mapRgb, scalePlane, throughMatrix, type Rgb } from '../../image/rgb';
import { mapParts, merged, withSeparation, type Light } from '../../light/light';
import { maskAt, maskKey } from '../../light/mask';
import { scaledFrame } from '../../light/plate';
import type { StationContext, StationEffect } from '../../light/station';
import { curveTables, hueTable } from '../../light/grading';
import type { GradeStep, Sharpening } from '../../kernels/grade';
import { subProgress } from '../../kernels/runtime/parallel';
import type { Look } from '../../look/look';
import { gaussianWeights } from '../../image/gaussian-blur';
import { moveByDistortion } from '../glass/run';
import { isMoved, placeReads } from '../glass/warp';

import { grainNoise, strengthTable } from './grain';
import { halationLight, halationReach, hasHalation } from './halation';
import { plateReads } from '../plate/run';
import { contrastTables, gammaTables, liftGainMatrix } from './tone';

const hasGrain = ({ film: { grain } }: Look): boolean => grain.on && grain.amount > 0;
const hasSharpening = ({ film: { sharpen } }: Look): boolean => sharpen.on && sharpen.amount > 0;

/** Name of the separation that holds what the parts of Film that are not linear change. */
export const FILM_SEPARATION = 'film';

/**
 * Film: what the light falls on. Halation, exposure and white balance are linear, and done to base and separations alike;
 * what tone, colour, grain and sharpening change is a separation of its own, so that plate and separations still sum to the
 * final. The view is only how display files and the screen show it, so it is not applied here (see {@link filmView}).
 */
export const filmEffect: StationEffect = {
  isActive: (look) => look.film.on,
  reads: (look) => {
    // How it is shown does not change the light.
    const film = { ...look.film, view: 0, lut: 0, lutInput: 0, lutStrength: 0 };
    const masks = [film.halation.feed.mask, ...Object.values(film.within)].map((id) => maskKey(look, id));
    const lengths = (hasHalation(look) || hasGrain(look)) && look.camera.sensorWidth;
    const moved = isMoved(look) && placeReads(look);
    return [film, masks, lengths, moved, hasHalation(look) && plateReads(look)];
  },
  reach(look, scale, { plate }) {
    const frame = scaledFrame(plate, scale);
    const sharpening = hasSharpening(look) ? 4 * look.film.sharpen.radius * frame.height : 0;
    return sharpening + (hasHalation(look) ? halationReach(look, frame) : 0);
  },
  async run(incoming, look, context) {
    let light = context.totalOnly ? merged(incoming) : incoming;
    if (hasHalation(look)) light = await addHalation(light, look, context);
    if (!context.totalOnly) light = await expose(light, look, context);
    return { light: await grade(light, look, context) };
  },
};

/** The light with halation on it; kept, since what follows is changed far more often. */
function addHalation(light: Light, look: Look, context: StationContext): Promise<Light> {
  const { halation } = look.film;
  const reads = [halation, look.camera.sensorWidth, plateReads(look), context.totalOnly];
  return context.cache.getOrReplace(
    `halation @${light.scale}`,
    `${light.key} halation ${JSON.stringify(reads)}`,
    async () => {
      const rgb = await halationLight(light, look, { ...context, ...subProgress(context, 0, 0.5) });
      const lit = withSeparation(light, { name: 'film.halation', rgb });
      return context.totalOnly ? merged(lit) : lit;
    },
    ({ total }) => 6 * total[0].byteLength,
  );
}

/** A mask of Film at the light's scale: it lies on the picture as the lens has drawn it. */
async function filmMask(
  look: Look,
  part: keyof Look['film']['within'],
  light: Light,
  context: StationContext,
): Promise<Float32Array | undefined> {
  const { plate, cache } = context;
  const id = look.film.within[part];
  const mask = await maskAt(look, id, `film.within.${part}`, plate, light.scale, cache);
  if (!mask || !isMoved(look)) return mask;
  return cache.getOrCompute(
    `${plate.id} mask ${maskKey(look, id)} @${light.scale} moved ${JSON.stringify(placeReads(look))}`,
    () => moveByDistortion(mask, light, look, context),
    (plane) => plane.byteLength,
  );
}

/** Exposure and white balance, on every part of the light. */
async function expose(light: Light, look: Look, context: StationContext): Promise<Light> {
  const { exposure, temperature, tint } = look.film;
  const gain = 2 ** exposure;
  const balance = balanceMatrix(temperature, tint);
  if (gain === 1 && !balance) return light;
  const [exposed, balanced] = [
    await filmMask(look, 'exposure', light, context),
    await filmMask(look, 'balance', light, context),
  ];
  return mapParts(light, (rgb) => {
    const brightened = gain === 1 ? rgb : heldTo(exposed, rgb, (planes) => scaled(planes, gain));
    return balance ? heldTo(balanced, brightened, (planes) => throughMatrix(planes, balance)) : brightened;
  });
}

/** The same as steps of the grade, for the sum alone. */
async function exposureSteps(light: Light, look: Look, context: StationContext): Promise<GradeStep[]> {
  const { exposure, temperature, tint } = look.film;
  const balance = balanceMatrix(temperature, tint);
  const gain = 2 ** exposure;
  const steps: GradeStep[] = [];
  if (gain !== 1) {
    const matrix = Float32Array.of(gain, 0, 0, 0, 0, gain, 0, 0, 0, 0, gain, 0);
    steps.push({ kind: 'matrix', matrix, mask: await filmMask(look, 'exposure', light, context) });
  }
  if (balance) {
    const matrix = Float32Array.from(balance.flatMap((row) => [...row, 0]));
    steps.push({ kind: 'matrix', matrix, mask: await filmMask(look, 'balance', light, context) });
  }
  return steps;
}

const scaled = (rgb: Rgb, gain: number): Rgb => mapRgb(rgb, (plane) => scalePlane(plane, gain));

/** A change where a mask is 1, none where it is 0. */
function heldTo(mask: Float32Array | undefined, rgb: Rgb, change: (rgb: Rgb) => Rgb): Rgb {
  const changed = change(rgb);
  if (!mask) return changed;
  return mapRgb(changed, (plane, c) => {
    const from = rgb[c];
    return plane.map((value, i) => from[i]! + mask[i]! * (value - from[i]!));
  });
}

/** Tone, colour, grain and sharpening. What they change is a separation, unless only the sum is looked at. */
async function grade(light: Light, look: Look, context: StationContext): Promise<Light> {
  const steps = await gradeSteps(light, look, context);
  const sharpening = await sharpeningOf(light, look, context);
  if (steps.length === 0 && !sharpening) return light;
  const { width, height } = light;
  const graded = await context.kernels.grade.grade(
    { width, height, light: light.total, steps, sharpening },
    subProgress(context, 0.5, 1),
  );
  if (context.totalOnly) return { ...light, base: graded, separations: [], total: graded };
  const rgb = mapRgb(graded, (plane, c) => {
    const before = light.total[c];
    return plane.map((value, i) => value - before[i]!);
  });
  return withSeparation(light, { name: FILM_SEPARATION, rgb });
}

async function gradeSteps(light: Light, look: Look, context: StationContext): Promise<GradeStep[]> {
  const { film } = look;
  const steps: GradeStep[] = context.totalOnly ? await exposureSteps(light, look, context) : [];
  const add = async (part: keyof Look['film']['within'], step: GradeStep): Promise<void> => {
    steps.push({ ...step, mask: await filmMask(look, part, light, context) });
  };
  const contrast = contrastTables(film);
  if (contrast) await add('contrast', { kind: 'tone', tables: contrast });
  const matrix = liftGainMatrix(film);
  if (matrix) await add('tone', { kind: 'matrix', matrix });
  const gamma = gammaTables(film);
  if (gamma) await add('tone', { kind: 'tone', tables: gamma });
  const curves = curveTables(film);
  if (curves) await add('curve', { kind: 'tone', tables: curves });
  const hues = hueTable(film);
  if (hues || film.saturation !== 1)
    await add('colour', { kind: 'colour', saturation: film.saturation, hues });
  if (hasGrain(look)) {
    const noise = await grainNoise(look, light.scale, context);
    await add('grain', { kind: 'grain', amount: film.grain.amount, strength: strengthTable(), noise });
  }
  return steps;
}

async function sharpeningOf(
  light: Light,
  look: Look,
  context: StationContext,
): Promise<Sharpening | undefined> {
  if (!hasSharpening(look)) return undefined;
  const { amount, radius, threshold, limit } = look.film.sharpen;
  const deviation = radius * scaledFrame(context.plate, light.scale).height;
  const weights = Float32Array.from(gaussianWeights(deviation));
  // A blur that does not reach the next pixel sharpens nothing.
  if (weights.length === 1) return undefined;
  const mask = await filmMask(look, 'sharpen', light, context);
  return { amount, threshold, limit, weights, mask };
}

/** What gives a look-up table by its name. */
export type Luts = Pick<StationContext, 'lut'>;

/** The view of a look; a film that is switched off shows plain sRGB. Throws {@link SettingError} without its table. */
export function filmView({ film }: Look, luts: Luts): View {
  if (!film.on) return viewOf('srgb');
  if (film.view !== 'lut') return viewOf(film.view);
  if (film.lut === '')
    throw new SettingError('the view has no look-up table', {
      where: 'film.lut',
      todo: 'Choose a .cube file, or another view',
    });
  const lut = luts.lut?.(film.lut);
  if (!lut)
    throw new SettingError(`there is no look-up table ${film.lut}`, {
      where: 'film.lut',
      todo: 'Load it again, or choose another view',
    });
  return viewOf('lut', { lut, input: film.lutInput, strength: film.lutStrength });
}
