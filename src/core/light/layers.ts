import { mapRgb, type Rgb } from '../image/rgb';

/** What one element, or the background, brings to a picture. */
export interface Layer {
  /** Place of the element in its stack; the background has none. */
  element: number | undefined;
  /** Light, multiplied by coverage. */
  rgb: Rgb;
  /** What of each pixel it takes up, from 0 to 1; undefined if it is all of each. One that only brings light takes up nothing. */
  coverage: Float32Array | 'none' | undefined;
  /** Its distances count against those of layers behind it, where these are nearer. */
  byDepth?: boolean;
}

/** The layers of a picture, back to front, and what they come to. */
export interface LayerStack {
  layers: readonly Layer[];
  total: Rgb;
}

/**
 * Layers as they stand behind changes to the picture that they come to: what was added to or taken from a pixel is that of the
 * layer which is seen there.
 */
export function layersOfChanged({ layers, total }: LayerStack, changed: Rgb): readonly Layer[] {
  if (changed === total) return layers;
  const count = total[0].length;
  const seen = new Uint8Array(count);
  layers.forEach(({ coverage }, k) => {
    for (let i = 0; i < count; i++)
      if (coverage === undefined || (coverage !== 'none' && coverage[i]! >= 0.5)) seen[i] = k;
  });
  return layers.map((layer, k) => ({
    ...layer,
    rgb: mapRgb(layer.rgb, (plane, c) => {
      const [from, to] = [total[c], changed[c]];
      return plane.map((value, i) => (seen[i] === k ? value + to[i]! - from[i]! : value));
    }),
  }));
}
