import { encodeSrgb } from './srgb';

export type ViewName = 'srgb' | 'filmic' | 'clip';

/** Scene-linear value of a middle grey surface (common practice). */
export const MIDDLE_GREY = 0.18;

/**
 * The filmic curve is the response of Naka & Rushton (1966), x^n / (x^n + s^n): a straight line over the logarithm of
 * light with a soft toe and shoulder. `s` is set so that middle grey stays where it is.
 */
const CONTRAST = 1.25;
const HALF_RESPONSE = MIDDLE_GREY * ((1 - MIDDLE_GREY) / MIDDLE_GREY) ** (1 / CONTRAST);
/** Before the curve each channel lends this share to the others, so that very bright colours go to white. */
const CROSSTALK = 0.06;

export function filmicCurve(linear: number): number {
  if (linear <= 0) return 0;
  const power = linear ** CONTRAST;
  return power === Infinity ? 1 : power / (power + HALF_RESPONSE ** CONTRAST);
}

const clamp01 = (value: number): number => (value > 0 ? (value < 1 ? value : 1) : 0);

/** One channel's curve from light (after any crosstalk) to the display's encoded 0..1, without the clip at its ends. */
export interface View {
  name: ViewName;
  crosstalk: number;
  curve(linear: number): number;
  encode(display: number): number;
}

const VIEWS: Record<ViewName, View> = {
  srgb: { name: 'srgb', crosstalk: 0, curve: clamp01, encode: encodeSrgb },
  filmic: { name: 'filmic', crosstalk: CROSSTALK, curve: filmicCurve, encode: encodeSrgb },
  clip: { name: 'clip', crosstalk: 0, curve: clamp01, encode: (display) => display },
};

export function viewNamed(name: ViewName): View {
  return VIEWS[name];
}

/**
 * Scene-linear planes to the display's encoded values, interleaved RGB, 0..1. `gain` multiplies the light first.
 * Where a view mixes channels, the mixture is taken back after the curve, so that only what the curve pressed
 * together near white loses colour.
 */
export function applyView(view: View, rgb: readonly Float32Array[], gain: number, out: Float32Array): void {
  const [r, g, b] = rgb as [Float32Array, Float32Array, Float32Array];
  const k = view.crosstalk;
  const inverse = 1 / (1 - 1.5 * k);
  for (let i = 0, at = 0; i < r.length; i++, at += 3) {
    const mean = ((r[i]! + g[i]! + b[i]!) * gain) / 3;
    const own = gain * (1 - 1.5 * k);
    const lent = 1.5 * k * mean;
    const dr = view.curve(r[i]! * own + lent);
    const dg = view.curve(g[i]! * own + lent);
    const db = view.curve(b[i]! * own + lent);
    const back = (1 - inverse) * ((dr + dg + db) / 3);
    out[at] = view.encode(clamp01(dr * inverse + back));
    out[at + 1] = view.encode(clamp01(dg * inverse + back));
    out[at + 2] = view.encode(clamp01(db * inverse + back));
  }
}
