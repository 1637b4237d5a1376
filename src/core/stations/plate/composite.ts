import { blackRgb, mapRgb, scalePlane, type Rgb } from '../../image/rgb';
import type { Layer } from '../../light/layers';
import type { ElementSettings } from '../../settings/element';

/** An element ready to be laid over others: corrected, in place, its light multiplied by its alpha. */
export interface Part extends Pick<ElementSettings, 'mode' | 'heldOut' | 'byDepth'> {
  element: number | undefined;
  rgb: Rgb;
  /** From 0 to 1; undefined if it is 1 everywhere. */
  alpha: Float32Array | undefined;
}

export interface Composite {
  layers: Layer[];
  total: Rgb;
  /** Undefined if the picture is whole everywhere. */
  alpha: Float32Array | undefined;
}

/**
 * Lays parts over each other, back to front, in linear light with associated alpha (Porter & Duff 1984; screen and multiply as in
 * W3C, Compositing and Blending Level 1, 2015). Layers are such that over alone makes the same picture of them: what screen
 * and multiply do to what lies behind is done to its layers.
 */
export function composite(parts: readonly Part[], pixels: number): Composite {
  let layers: Layer[] = [];
  let total = blackRgb(pixels);
  let alpha: Float32Array | undefined = new Float32Array(pixels);
  for (const part of parts) {
    const { element, rgb } = part;
    switch (part.mode) {
      case 'over':
        if (part.heldOut && part.alpha) layers = madeWhole(layers, part.alpha);
        layers = [...layers, { element, rgb, coverage: part.alpha, byDepth: part.byDepth }];
        total = part.heldOut ? overAll(layers, pixels) : over(total, part);
        alpha = part.heldOut ? coverageOf(layers, pixels) : joinAlpha(alpha, part.alpha);
        break;
      case 'add':
        layers = [...layers, { element, rgb, coverage: 'none' }];
        total = sum(total, rgb);
        alpha = addAlpha(alpha, part.alpha);
        break;
      case 'screen': {
        const light = mapRgb(rgb, (plane, c) => screened(total[c], plane));
        layers = [...layers, { element, rgb: light, coverage: 'none' }];
        total = sum(total, light);
        alpha = joinAlpha(alpha, part.alpha);
        break;
      }
      case 'multiply': {
        const factor = mapRgb(rgb, (plane) =>
          plane.map((value, i) => value + 1 - (part.alpha ? part.alpha[i]! : 1)),
        );
        const times = (planes: Rgb): Rgb =>
          mapRgb(planes, (plane, c) => plane.map((value, i) => value * factor[c][i]!));
        layers = layers.map((layer) => ({ ...layer, rgb: times(layer.rgb) }));
        total = times(total);
        // What is not there behind it cannot be darkened: the part shows as it is.
        if (alpha) {
          const behind = alpha;
          const light = mapRgb(rgb, (plane) => plane.map((value, i) => value * (1 - behind[i]!)));
          layers = [...layers, { element, rgb: light, coverage: 'none' }];
          total = sum(total, light);
        }
        alpha = joinAlpha(alpha, part.alpha);
        break;
      }
    }
  }
  return { layers, total, alpha };
}

const sum = (a: Rgb, b: Rgb): Rgb => mapRgb(a, (plane, c) => plane.map((value, i) => value + b[c][i]!));

function over(total: Rgb, { rgb, alpha }: Pick<Part, 'rgb' | 'alpha'>): Rgb {
  if (!alpha) return rgb;
  return mapRgb(rgb, (plane, c) => {
    const behind = total[c];
    return plane.map((value, i) => value + (1 - alpha[i]!) * behind[i]!);
  });
}

const joinAlpha = (
  behind: Float32Array | undefined,
  alpha: Float32Array | undefined,
): Float32Array | undefined =>
  behind && alpha && behind.map((value, i) => alpha[i]! + (1 - alpha[i]!) * value);

const addAlpha = (
  behind: Float32Array | undefined,
  alpha: Float32Array | undefined,
): Float32Array | undefined => behind && alpha && behind.map((value, i) => Math.min(1, value + alpha[i]!));

/** Light that screen adds: `a + b - a b` for display values; from white on the brighter of the two stays, so that lamps do. */
function screened(behind: Float32Array, plane: Float32Array): Float32Array {
  return plane.map((b, i) => {
    const a = behind[i]!;
    if (a > 1 || b > 1) return Math.max(a, b) - a;
    return b - Math.max(0, a) * b;
  });
}

/**
 * The layers with the last that covers made whole behind one that was cut against it: where their coverages come to 1, together
 * they cover all.
 */
function madeWhole(layers: readonly Layer[], alpha: Float32Array): Layer[] {
  const last = layers.findLastIndex(({ coverage }) => coverage instanceof Float32Array);
  return layers.map((layer, k) => {
    const { coverage } = layer;
    if (k !== last || !(coverage instanceof Float32Array)) return layer;
    const gain = coverage.map((value, i) => {
      const open = 1 - alpha[i]!;
      return value > 0 ? Math.max(1, Math.min(open > 0 ? 1 / open : Infinity, 1 / value)) : 1;
    });
    return {
      ...layer,
      rgb: mapRgb(layer.rgb, (plane) => plane.map((value, i) => value * gain[i]!)),
      coverage: coverage.map((value, i) => Math.min(1, value * gain[i]!)),
    };
  });
}

/**
 * Layers laid over each other pixel by pixel: where one that goes by depth is farther than those behind it in the list, it lies behind
 * them. `distances` are those of the layers.
 */
export function overByDepth(
  layers: readonly Layer[],
  distances: readonly Float32Array[],
  pixels: number,
): Rgb {
  const total = blackRgb(pixels);
  const order = layers.map((_, k) => k);
  for (let i = 0; i < pixels; i++) {
    order.length = 0;
    for (const [k, { byDepth }] of layers.entries()) {
      let at = order.length;
      while (byDepth && at > 0 && distances[order[at - 1]!]![i]! < distances[k]![i]!) at--;
      order.splice(at, 0, k);
    }
    for (const k of order) {
      const { rgb, coverage } = layers[k]!;
      const open = coverage === 'none' ? 1 : coverage ? 1 - coverage[i]! : 0;
      for (let c = 0; c < 3; c++) total[c]![i] = rgb[c]![i]! + open * total[c]![i]!;
    }
  }
  return total;
}

/** Layers laid over each other, back to front. */
export function overAll(layers: readonly Layer[], pixels: number): Rgb {
  return layers.reduce<Rgb>(
    (total, { rgb, coverage }) =>
      coverage === 'none' ? sum(total, rgb) : over(total, { rgb, alpha: coverage }),
    blackRgb(pixels),
  );
}

function coverageOf(layers: readonly Layer[], pixels: number): Float32Array | undefined {
  return layers.reduce<Float32Array | undefined>(
    (alpha, { coverage }) => (coverage === 'none' ? alpha : joinAlpha(alpha, coverage)),
    new Float32Array(pixels),
  );
}

/** A part of which a share is there. */
export function withOpacity(part: Part, opacity: number, pixels: number): Part {
  if (opacity === 1) return part;
  return {
    ...part,
    rgb: mapRgb(part.rgb, (plane) => scalePlane(plane, opacity)),
    alpha: part.alpha ? scalePlane(part.alpha, opacity) : new Float32Array(pixels).fill(opacity),
  };
}
