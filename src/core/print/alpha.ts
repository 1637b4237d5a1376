import type { Rgb } from '../image/rgb';

/** Whether a file tells where the picture is, and whether its colours are multiplied by that (associated) or not. */
export type PrintAlpha = 'none' | 'associated' | 'unassociated';

/** The least alpha of a pixel that has light: what is divided by it is finite, and multiplied again it is the light. */
const LEAST = 1 / 1024;

/**
 * Display values (interleaved RGB, 0..1, as seen over black) with alpha, interleaved RGBA. Where there is more light than alpha,
 * as in a glow over nothing, alpha rises to it: over black the picture is the same as without alpha.
 */
export function displayWithAlpha(
  rgb: Float32Array,
  alpha: Float32Array,
  isAssociated: boolean,
): Float32Array {
  const out = new Float32Array(alpha.length * 4);
  for (let i = 0; i < alpha.length; i++) {
    const [r, g, b] = [rgb[3 * i]!, rgb[3 * i + 1]!, rgb[3 * i + 2]!];
    const cover = Math.min(1, Math.max(alpha[i]!, r, g, b));
    const gain = isAssociated || cover === 0 ? 1 : 1 / cover;
    out[4 * i] = r * gain;
    out[4 * i + 1] = g * gain;
    out[4 * i + 2] = b * gain;
    out[4 * i + 3] = cover;
  }
  return out;
}

/** Scene light with alpha, interleaved RGBA. Multiplied by its alpha again, unassociated light is the light. */
export function lightWithAlpha([r, g, b]: Rgb, alpha: Float32Array, isAssociated: boolean): Float32Array {
  const out = new Float32Array(alpha.length * 4);
  for (let i = 0; i < alpha.length; i++) {
    const isLit = r[i] !== 0 || g[i] !== 0 || b[i] !== 0;
    const cover = isAssociated || !isLit ? alpha[i]! : Math.max(LEAST, alpha[i]!);
    const gain = isAssociated || cover === 0 ? 1 : 1 / cover;
    out[4 * i] = r[i]! * gain;
    out[4 * i + 1] = g[i]! * gain;
    out[4 * i + 2] = b[i]! * gain;
    out[4 * i + 3] = cover;
  }
  return out;
}
