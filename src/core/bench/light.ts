/** Red, green and blue planes: scene-linear, Rec.709 primaries, `width * height` floats each, top row first. */
export type Rgb = readonly [Float32Array, Float32Array, Float32Array];

/** What one effect alone added to or took from the picture. May be negative. */
export interface Separation {
  /** `veil.bloom` */
  name: string;
  rgb: Rgb;
}

/**
 * Light at one place on the bench. `total` is the base plus the separations, summed in order in single precision:
 * who adds the parts up again gets the same bits.
 */
export interface Light {
  width: number;
  height: number;
  /** Share of the plate's full size. */
  scale: number;
  base: Rgb;
  alpha: Float32Array | undefined;
  separations: readonly Separation[];
  total: Rgb;
  /** Equal keys mean equal light; the bench sets it. */
  key: string;
}

export function mapRgb(rgb: Rgb, change: (plane: Float32Array, channel: 0 | 1 | 2) => Float32Array): Rgb {
  return [change(rgb[0], 0), change(rgb[1], 1), change(rgb[2], 2)];
}

export function addPlanes(a: Float32Array, b: Float32Array): Float32Array {
  const out = new Float32Array(a.length);
  for (let i = 0; i < out.length; i++) out[i] = a[i]! + b[i]!;
  return out;
}

function scalePlane(plane: Float32Array, gain: number): Float32Array {
  const out = new Float32Array(plane.length);
  for (let i = 0; i < out.length; i++) out[i] = plane[i]! * gain;
  return out;
}

/** The light with one more separation on it. */
export function withSeparation(light: Light, separation: Separation): Light {
  return {
    ...light,
    separations: [...light.separations, separation],
    total: mapRgb(light.total, (plane, c) => addPlanes(plane, separation.rgb[c])),
  };
}

/** The light with everything on it multiplied by one gain. A gain of 1 gives the light itself. */
export function withGain(light: Light, gain: number): Light {
  if (gain === 1) return light;
  const times = (rgb: Rgb): Rgb => mapRgb(rgb, (plane) => scalePlane(plane, gain));
  const base = times(light.base);
  const separations = light.separations.map(({ name, rgb }) => ({ name, rgb: times(rgb) }));
  const total = separations.reduce(
    (sum, { rgb }) => mapRgb(sum, (plane, c) => addPlanes(plane, rgb[c])),
    base,
  );
  return { ...light, base, separations, total };
}
