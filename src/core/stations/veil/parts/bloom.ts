import type { Size } from '../../../image/rectangle';
import { eyeGlare } from '../../../optics/glare';
import { powerLawQuadrant } from '../../../optics/power-law';
import { radialQuadrant, radialTotal } from '../../../optics/radial';
import { diagonal, feedOf, type PartDefinition, type PartFactory } from './part';
import { partColour } from './part-colour';
import { evenKernel } from './pixel-kernel';

/** Wavelengths in nm that stand for the channels: the dominant ones of the primaries (ITU-R BT.709, computed). */
const WAVELENGTHS = [611, 549, 464] as const;

/** Degrees within which what the eye scatters counts as the source's own image. */
const IMAGE = 0.1;

/** The glare of the eye on pixels; `focal` is the focal length in pixels. */
function glareQuadrant(focal: number, age: number, reach: number, { width, height }: Size): Float32Array {
  const image = focal * Math.tan((IMAGE * Math.PI) / 180);
  const density = (radius: number): number => {
    const angle = Math.atan(radius / focal);
    return (eyeGlare(Math.max(IMAGE, (angle * 180) / Math.PI), age) * Math.cos(angle) ** 3) / focal ** 2;
  };
  const scale = 1 / radialTotal(density, image, reach);
  return radialQuadrant((square) => scale * density(Math.sqrt(square)), {
    width,
    height,
    reach,
    scaleLength: image,
  });
}

const make: PartFactory = (look, { size, frame }) => {
  const { on, amount, law, radius, falloff, split, age, feed } = look.veil.bloom;
  const part = { name: 'veil.bloom', on, amount, ...partColour(look.veil.bloom), ...feedOf(look, feed) };
  if (law === 'eye') {
    const focal = (look.camera.focalLength / look.camera.sensorWidth) * frame.width;
    const reach = diagonal(size);
    return [
      {
        ...part,
        key: `eye ${JSON.stringify([focal, age, reach])}`,
        kernels: (width, height) => [evenKernel(glareQuadrant(focal, age, reach, { width, height }), width)],
      },
    ];
  }
  const power = { core: radius * frame.height, falloff, reach: diagonal(size) };
  const cores = split === 0 ? [1] : WAVELENGTHS.map((wavelength) => (wavelength / WAVELENGTHS[1]) ** split);
  return [
    {
      ...part,
      key: JSON.stringify([power, split]),
      kernels: (width, height) =>
        cores.map((scale) =>
          evenKernel(powerLawQuadrant({ ...power, core: scale * power.core }, width, height), width),
        ),
    },
  ];
};

/** A glow that falls off with the distance, by a power of it or as in an eye. */
export const bloom: PartDefinition = { id: 'bloom', isGlare: true, make };
