import { layersOfChanged } from '../../light/layers';
import type { Light } from '../../light/light';
import type { Rectangle } from '../../image/rectangle';
import { channelOfImage, type GreyImage } from '../../image/grey-image';
import { blackRgb, mapRgb, toRgb, type Rgb } from '../../image/rgb';
import { pupilImage } from '../../light/image';
import { scaledFrame, type Plate } from '../../light/plate';
import type { StationContext, StationEffect } from '../../light/station';
import { subProgress } from '../../kernels/runtime/parallel';
import { IN_FOCUS_RADIUS, type ScatterInput, type Surface } from '../../kernels/scatter';
import type { Look } from '../../look/look';
import { shapeAt } from '../../optics/pupil';
import { hasMarks, pupilMask } from '../../optics/pupil-mask';
import { isTraced } from '../glass/colour';
import { barrelShare } from './barrel';
import { axialNodes, axialReads, effectiveCatsEye, largestShift, type AxialNode } from './axial';
import { cellOf, DiscSet } from './discs';
import { cropPlane, padPicture } from './pad';
import { radiusPlane } from './radius';
import { surfacesOf, type FocusedPicture } from './surfaces';

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
    const picture = await surfacesOf(light, look, context);
    const { surfaces, glows } = picture;
    const nodes = await axialNodes(look, light.scale, context);
    const isSharp = ({ shift }: AxialNode): boolean =>
      [...surfaces, ...glows.map(({ surface }) => surface)].every(({ radius }) =>
        radius.every((r) => Math.abs(r + shift) <= IN_FOCUS_RADIUS),
      );
    if (nodes.every(isSharp)) return { light };
    const { width, height } = light;
    const settings = look.focus;
    const { squeeze, rim } = settings;
    const catsEye = await effectiveCatsEye(look, context);
    const { obstruction } = look.pupil;
    const shape = { pupil: shapeAt(look.pupil, look.camera.fStop), obstruction, squeeze, rim, catsEye };
    const marked = settings.marks && hasMarks(look.pupil);
    const image = marked ? pupilImage(look, context) : undefined;
    const discsOf = (held: GreyImage | undefined): Promise<DiscSet> =>
      context.cache.getOrCompute(
        `discs ${JSON.stringify([shape, marked && look.pupil, held?.key])}`,
        () =>
          new DiscSet({
            ...shape,
            ...(marked && {
              marks: { plane: pupilMask(shape.pupil, look.pupil, MARKED_SIZE, held), size: MARKED_SIZE },
            }),
          }),
        (set) => set.bytes,
      );
    const discs = await discsOf(image);
    const coloured = image?.channels ? await discsOfChannels(image, discsOf) : undefined;
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
      surfaces,
      discs,
      cellX: cells(width, frame.x + frame.width / 2),
      cellY: cells(height, frame.y + frame.height / 2),
      fill: settings.edge === 'same',
    };
    const { alpha } = light;
    const spreadsAlpha = alpha !== undefined && alpha.some((value) => value !== 1);
    const share = (spreadsAlpha ? 0.6 : 1) / (1 + glows.length);
    const spread = async (one: ScatterInput, options: StationContext): Promise<Rgb> => {
      const own = await scatterByWavelength(one, nodes, { ...options, ...subProgress(options, 0, share) });
      return addGlows(own, picture, one, nodes, {
        ...options,
        ...subProgress(options, share, spreadsAlpha ? 0.6 : 1),
      });
    };
    const rgb = coloured ? await byChannel(coloured, input, spread, context) : await spread(input, context);
    if (!spreadsAlpha) return { light: withBase(light, rgb) };
    const whole = light.layers ? alphaSurfaces(picture) : [{ ...surfaces[0]!, light: [alpha, alpha, alpha] }];
    const blurred = await scatterAlpha(whole, input, { ...context, ...subProgress(context, 0.6, 1) });
    return { light: { ...withBase(light, rgb), alpha: blurred } };
  },
};

/** The discs of each channel, of a mask in colour. */
async function discsOfChannels(
  image: GreyImage,
  discsOf: (held: GreyImage) => Promise<DiscSet>,
): Promise<DiscSet[]> {
  const sets: DiscSet[] = [];
  for (let c = 0; c < 3; c++) sets.push(await discsOf(channelOfImage(image, c)));
  return sets;
}

/** Each channel over discs of its own: what a mask holds back of one it leaves to others. Each disc holds all of its light. */
async function byChannel(
  sets: readonly DiscSet[],
  input: ScatterInput,
  spread: (one: ScatterInput, options: StationContext) => Promise<Rgb>,
  context: StationContext,
): Promise<Rgb> {
  const planes: Float32Array[] = [];
  for (const [c, discs] of sets.entries()) {
    const own = { ...context, ...subProgress(context, c / 3, (c + 1) / 3) };
    planes.push((await spread({ ...input, discs }, own))[c]!);
  }
  return toRgb(planes);
}

/** What surfaces take up, as light. */
const coverageAsLight = (surfaces: readonly Surface[]): Surface[] =>
  surfaces.map((surface) => {
    const plane = surface.coverage ?? new Float32Array(surface.radius.length).fill(1);
    return { ...surface, light: [plane, plane, plane] };
  });

/** The same of a whole picture, whose last surface takes up less than it covers. */
function alphaSurfaces({ surfaces: [last, ...nearer], lastCoverage }: FocusedPicture): Surface[] {
  const [whole] = coverageAsLight([last!]);
  const plane = whole!.light[0]!.map((value, i) => value * (lastCoverage ? lastCoverage[i]! : 1));
  return [{ ...last!, light: [plane, plane, plane] }, ...coverageAsLight(nearer)];
}

/** Coverage goes through the same discs as the colour that it covers with. */
async function scatterAlpha(
  surfaces: readonly Surface[],
  input: ScatterInput,
  context: StationContext,
  isOpen = false,
): Promise<Float32Array> {
  const [blurred] = await scatterSurfaces(
    { ...input, key: `${input.key} alpha ${surfaces.length}`, surfaces },
    context,
    isOpen,
  );
  return blurred;
}

/** Adds light that covers nothing, behind what lies before it. */
async function addGlows(
  rgb: Rgb,
  picture: FocusedPicture,
  input: ScatterInput,
  nodes: readonly AxialNode[],
  context: StationContext,
): Promise<Rgb> {
  const { surfaces, glows } = picture;
  let sum = rgb;
  for (const [k, { surface, behind }] of glows.entries()) {
    const single = { ...input, key: `${input.key} glow ${k}`, surfaces: [surface] };
    const own = { ...context, ...subProgress(context, k / glows.length, (k + 1) / glows.length) };
    const light = await scatterByWavelength(single, nodes, own);
    const before = coverageAsLight(surfaces.slice(behind));
    const covered =
      before.length > 0
        ? await scatterAlpha(before, { ...input, key: `${input.key} before ${k}` }, own, true)
        : undefined;
    sum = mapRgb(sum, (plane, c) =>
      plane.map((value, i) => value + light[c][i]! * (covered ? 1 - covered[i]! : 1)),
    );
  }
  return sum;
}

/**
 * Surfaces over their discs. One alone is made whole at the frame's edge by what there is of it; of several each must cover there.
 * Open ones let something through.
 */
async function scatterSurfaces(input: ScatterInput, context: StationContext, isOpen = false): Promise<Rgb> {
  const { scatter } = context.kernels;
  const isWhole = input.surfaces.length === 1 && !input.surfaces[0]!.coverage;
  if (isWhole || !input.fill) return scatter.scatter(input, context);
  const { padded, margin } = padPicture(input);
  return mapRgb(await scatter.scatter({ ...padded, fill: !isOpen }, context), (plane) =>
    cropPlane(plane, input, margin),
  );
}

/** The picture over the discs of each wavelength, which axial colour makes of different sizes, with what each brings to a channel. */
async function scatterByWavelength(
  input: ScatterInput,
  nodes: readonly AxialNode[],
  context: StationContext,
): Promise<Rgb> {
  if (nodes.length === 1) return scatterSurfaces(input, context);
  const sum = blackRgb(input.width * input.height);
  for (const [k, { shift, weight }] of nodes.entries()) {
    const rgb = await scatterSurfaces(
      {
        ...input,
        key: `${input.key} shift ${shift}`,
        surfaces: input.surfaces.map((one) => ({ ...one, radius: one.radius.map((r) => r + shift) })),
      },
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
  const dimmed = (planes: Rgb): Rgb => mapRgb(planes, (plane) => plane.map((value, i) => value * passed[i]!));
  const rgb = dimmed(light.total);
  const { layers } = light;
  return {
    ...withBase(light, rgb),
    layers: layers && {
      layers: layersOfChanged(layers, light.total).map((layer) => ({ ...layer, rgb: dimmed(layer.rgb) })),
      total: rgb,
    },
    key: `${light.key} barrel ${JSON.stringify([pupil, look.pupil.obstruction, catsEye])}`,
  };
}

/** Focus changes where light falls, not what is added to it: its result is the new base. */
function withBase(light: Light, rgb: Rgb): Light {
  return { ...light, base: rgb, separations: [], total: rgb, layers: undefined };
}
