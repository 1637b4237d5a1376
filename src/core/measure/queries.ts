import type { Triple } from '../color/primaries';
import type { Kernels } from '../kernels';
import type { Light } from '../light/light';
import type { StationQuery } from '../light/query';
import type { Look } from '../look/look';
import { NO_MARKS } from '../optics/pupil-mask';
import { spikeImages, spikeUnit } from '../stations/veil/parts/spikes';
import { lightWithin } from './estimates';
import type { PupilModels } from './light-fit';
import { beginOf, measureLight, profileLight, type LightMeasurement } from './measure';
import { CUT_OFF, type MeasuredPicture } from './polar';

/** A circle on a picture: its middle as shares of width and height, its radius as a share of the height. */
export interface Circle {
  x: number;
  y: number;
  radius: number;
}

/** What a lamp is measured to be, with the height of the picture that its pixels are of. */
export interface MeasuredLamp extends LightMeasurement {
  height: number;
}

/** Pixels across the pupil whose spikes are fitted. */
const PUPIL_SIZE = 256;
/** A lamp's own light is taken of a picture no higher than this. */
const LAMP_HEIGHT = 1080;

/** The spikes that a picture of a width in pixels may have, with the camera of a look and straight blades. */
export function pupilModels(
  look: Look,
  { width, kernels }: { width: number; kernels: Kernels },
): PupilModels {
  return {
    spikeUnit: spikeUnit(look, 1, width),
    pupilImages: (blades) =>
      spikeImages(
        { shape: { blades, rotation: 0, curvature: 0 }, marks: NO_MARKS, softness: 0, saturation: 0 },
        { kernel: kernels.diffraction, size: PUPIL_SIZE },
      ),
  };
}

/** A circle in the pixels of a picture. */
export function circleIn(
  { x, y, radius }: Circle,
  { width, height }: { width: number; height: number },
): { at: { x: number; y: number }; pixels: number } {
  return { at: { x: x * width, y: y * height }, pixels: radius * height };
}

const sceneLight = ({ total, width, height }: Light): MeasuredPicture => ({
  rgb: total,
  width,
  height,
  clip: Infinity,
});

/** What the lamp in a circle gives before the lens scatters it, in luminance times squared picture heights; undefined if there is none. */
export const lampLight: StationQuery<{ circle: Circle }, number | undefined> = async (
  _look,
  { circle },
  context,
) => {
  const { height } = context.plate().picture;
  const picture = sceneLight(await context.lightBefore('veil', Math.min(1, LAMP_HEIGHT / height)));
  const { at, pixels } = circleIn(circle, picture);
  const found = profileLight(picture, at, pixels);
  if (!found) return undefined;
  const { source, profile } = found;
  const inner = beginOf(source);
  const behind = profile.light.find((light) => Number.isFinite(light)) ?? 0;
  const own = lightWithin(picture, source, inner) - behind * Math.PI * inner ** 2;
  return own > 0 ? own / picture.height ** 2 : undefined;
};

/** Measures the lamp in a circle of a reference, whose exposure and white are as they are shown beside the picture. */
export const measureLamp: StationQuery<
  { circle: Circle; gains: Triple; camera: Look['camera'] },
  MeasuredLamp | undefined
> = async (look, { circle, gains, camera }, context) => {
  const { range, width, height } = context.plate().picture;
  const light = sceneLight(await context.lightBefore('veil', 1));
  const picture = { ...light, gains, clip: range === 'display' ? CUT_OFF : Infinity };
  const { at, pixels } = circleIn(circle, picture);
  const measured = await measureLight(picture, at, pixels, {
    ...pupilModels({ ...look, camera }, { width, kernels: context.kernels }),
    pause: nextTurn,
  });
  return measured && { ...measured, height };
};

/** Lets waiting messages in. */
const nextTurn = (): Promise<void> => new Promise((resolve) => setTimeout(() => resolve(), 0));
