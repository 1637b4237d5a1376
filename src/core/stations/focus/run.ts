import type { Light } from '../../light/light';
import type { Rectangle } from '../../image/rectangle';
import { blackRgb, mapRgb, type Rgb } from '../../image/rgb';
import { pupilImage } from '../../light/image';
import { scaledFrame, scaledSize, type Plate } from '../../light/plate';
import type { StationContext, StationEffect } from '../../light/station';
import { subProgress } from '../../kernels/runtime/parallel';
import { IN_FOCUS_RADIUS, type ScatterInput } from '../../kernels/scatter';
import type { Look } from '../../look/look';
import { blurDiameter } from '../../optics/camera';
import { shapeAt } from '../../optics/pupil';
import { hasMarks, pupilMask } from '../../optics/pupil-mask';
import { isTraced } from '../glass/colour';
import { barrelShare } from './barrel';
import { axialNodes, axialReads, effectiveCatsEye, largestShift, type AxialNode } from './axial';
import { readDepth } from '../../light/depth';
import { cellOf, DiscSet } from './discs';

/** Pixels across a pupil whose marks show in the blur. */
const MARKED_SIZE = 192;

/**
 * Focus: what the lens blurs because it is not at the focus distance. Every piece of surface is spread over the image of
 * the pupil that its distance gives; nearer layers cover farther ones. What is in focus keeps its bits.
 */
export const focusEffect: StationEffect = {
  isActive: (look) => look.focus.on && look.focus.amount > 0,
  reads: (look) => [
    look.focus,
    look.camera,
    shapeAt(look.pupil, look.camera.fStop),
    look.pupil.obstruction,
    look.focus.marks && hasMarks(look.pupil) && look.pupil,
    axialReads(look),
  ],
  async reach(look, scale, context) {
    let largest = 0;
    for (const radius of await radiusPlane(look, scale, context))
      largest = Math.max(largest, Math.abs(radius));
    return largest + (await largestShift(look, scale, context));
  },
  async run(incoming, look, context) {
    const light = dimByBarrel(incoming, look, context.plate);
    const radius = await radiusPlane(look, light.scale, context);
    const nodes = await axialNodes(look, light.scale, context);
    const isSharp = ({ shift }: AxialNode): boolean =>
      radius.every((r) => Math.abs(r + shift) <= IN_FOCUS_RADIUS);
    if (nodes.every(isSharp)) return { light };
    const { width, height } = light;
    const settings = look.focus;
    const { squeeze, rim } = settings;
    const catsEye = await effectiveCatsEye(look, context);
    const { obstruction } = look.pupil;
    const shape = { pupil: shapeAt(look.pupil, look.camera.fStop), obstruction, squeeze, rim, catsEye };
    const marked = settings.marks && hasMarks(look.pupil);
    const image = marked ? pupilImage(look, context) : undefined;
    const discs = await context.cache.getOrCompute(
      `discs ${JSON.stringify([shape, marked && look.pupil, image?.key])}`,
      () =>
        new DiscSet({
          ...shape,
          ...(marked && {
            marks: { plane: pupilMask(shape.pupil, look.pupil, MARKED_SIZE, image), size: MARKED_SIZE },
          }),
        }),
      (set) => set.bytes,
    );
    const { frame, half } = fieldOf(context.plate, light.scale);
    const cells = (count: number, middle: number): Uint8Array =>
      Uint8Array.from({ length: count }, (_, k) => (catsEye > 0 ? cellOf((k + 0.5 - middle) / half) : 0));
    // What shapes the discs changes nothing about the pieces.
    const { on, amount, limit, breathing, depth } = settings;
    const places = [on, amount, limit, breathing, depth, look.camera];
    const input = {
      key: `${light.key} ${JSON.stringify(places)}`,
      width,
      height,
      light: light.total,
      radius,
      discs,
      cellX: cells(width, frame.x + frame.width / 2),
      cellY: cells(height, frame.y + frame.height / 2),
      fill: settings.edge === 'same',
    };
    const { alpha } = light;
    const spreadsAlpha = alpha !== undefined && alpha.some((value) => value !== 1);
    const share = spreadsAlpha ? 0.6 : 1;
    const rgb = await scatterByWavelength(input, nodes, { ...context, ...subProgress(context, 0, share) });
    if (!spreadsAlpha) return { light: withBase(light, rgb) };
    // Coverage goes through the same discs as the colour that it covers with.
    const covered: Rgb = [alpha, alpha, alpha];
    const [blurred] = await context.kernels.scatter.scatter(
      { ...input, key: `${input.key} alpha`, light: covered },
      { ...context, ...subProgress(context, share, 1) },
    );
    return { light: { ...withBase(light, rgb), alpha: blurred } };
  },
};

/** The picture over the discs of each wavelength, which axial colour makes of different sizes, with what each brings to a channel. */
async function scatterByWavelength(
  input: ScatterInput,
  nodes: readonly AxialNode[],
  context: StationContext,
): Promise<Rgb> {
  const { scatter } = context.kernels;
  if (nodes.length === 1) return scatter.scatter(input, context);
  const sum = blackRgb(input.radius.length);
  for (const [k, { shift, weight }] of nodes.entries()) {
    const rgb = await scatter.scatter(
      { ...input, key: `${input.key} shift ${shift}`, radius: input.radius.map((r) => r + shift) },
      { ...context, ...subProgress(context, k / nodes.length, (k + 1) / nodes.length) },
    );
    for (const [c, plane] of sum.entries()) addScaled(plane, rgb[c]!, weight[c]!);
  }
  return sum;
}

function addScaled(sum: Float32Array, plane: Float32Array, gain: number): void {
  for (let i = 0; i < sum.length; i++) sum[i]! += gain * plane[i]!;
}

/** The frame at a scale, and half its diagonal. */
function fieldOf(plate: Plate, scale: number): { frame: Rectangle; half: number } {
  const frame = scaledFrame(plate, scale);
  return { frame, half: Math.hypot(frame.width, frame.height) / 2 };
}

/** The light that the barrel lets through, if what it cuts off is to be lost. */
function dimByBarrel(light: Light, look: Look, plate: Plate): Light {
  const { catsEye, catsEyeDims } = look.focus;
  // A lens that is traced dims the whole picture at Glass.
  if (!catsEyeDims || catsEye <= 0 || isTraced(look)) return light;
  const pupil = shapeAt(look.pupil, look.camera.fStop);
  const share = barrelShare({ pupil, obstruction: look.pupil.obstruction, catsEye });
  const { frame, half } = fieldOf(plate, light.scale);
  const { width } = light;
  const [cx, cy] = [frame.x + frame.width / 2, frame.y + frame.height / 2];
  const passed = light.total[0].map((_, i) =>
    share(((i % width) + 0.5 - cx) / half, (Math.floor(i / width) + 0.5 - cy) / half),
  );
  const rgb = mapRgb(light.total, (plane) => plane.map((value, i) => value * passed[i]!));
  return {
    ...withBase(light, rgb),
    key: `${light.key} barrel ${JSON.stringify([pupil, look.pupil.obstruction, catsEye])}`,
  };
}

/** Focus changes where light falls, not what is added to it: its result is the new base. */
function withBase(light: Light, rgb: Rgb): Light {
  return { ...light, base: rgb, separations: [], total: rgb };
}

/** What of a look the distances of a plate depend on. */
export function depthReading({ focus, camera }: Look): unknown {
  const { depth } = focus;
  return depth.reading === 'ray' ? [depth, camera.focalLength, camera.sensorWidth] : depth;
}

/** Planar distance of every pixel at a scale, in metres. Throws {@link SettingError} without a depth pass. */
export function distancePlane(
  look: Look,
  scale: number,
  { plate, cache }: Pick<StationContext, 'plate' | 'cache'>,
): Promise<Float32Array> {
  return cache.getOrCompute(
    `${plate.id} distances ${JSON.stringify(depthReading(look))} @${scale}`,
    () => sampleDistances(readDepth(plate, look), plate, scale),
    (plane) => plane.byteLength,
  );
}

/** Signed blur radius of every pixel at a scale, in its pixels; negative before the focus. */
export async function radiusPlane(
  look: Look,
  scale: number,
  context: Pick<StationContext, 'plate' | 'cache'>,
): Promise<Float32Array> {
  const { plate } = context;
  const distance = await distancePlane(look, scale, context);
  const radiusAt = radiusReader(look, plate, scale);
  const out = new Float32Array(distance.length);
  for (let i = 0; i < out.length; i++) out[i] = radiusAt(distance[i]!);
  return out;
}

/** What gives the signed radius in pixels at a scale for a distance. */
function radiusReader(look: Look, plate: Plate, scale: number): (distance: number) => number {
  const { amount, limit, breathing } = look.focus;
  const pixels = (plate.frame.width * scale) / look.camera.sensorWidth;
  const most = limit * plate.frame.height * scale;
  const { camera } = look;
  return (distance) => {
    const radius = (amount * pixels * blurDiameter(camera, distance, breathing)) / 2;
    return Math.max(-most, Math.min(most, radius));
  };
}

/** The signed radius in pixels at a scale that a distance gives. */
export function blurRadius(look: Look, plate: Plate, scale: number, distance: number): number {
  return radiusReader(look, plate, scale)(distance);
}

/** Distances at a scale: of one pixel in each larger one, never of a mean of surfaces. */
function sampleDistances(full: Float32Array, plate: Plate, scale: number): Float32Array {
  const { width, height } = plate.picture;
  const size = scaledSize(plate, scale);
  if (size.width === width && size.height === height) return full;
  const out = new Float32Array(size.width * size.height);
  for (let y = 0; y < size.height; y++) {
    const row = Math.min(height - 1, Math.floor(((y + 0.5) * height) / size.height)) * width;
    for (let x = 0; x < size.width; x++)
      out[y * size.width + x] =
        full[row + Math.min(width - 1, Math.floor(((x + 0.5) * width) / size.width))]!;
  }
  return out;
}
