import { ACESCCT_LINE, encodeAcescct, REC709_TO_AP1 } from './aces';
import type { Matrix } from './chromaticities';
import { lutReader, type CubeLut } from './lut';
import type { Triple } from './primaries';
import { encodeSrgb, SRGB_LINE } from './srgb';

export type ViewName = 'srgb' | 'filmic' | 'clip' | 'lut';

/** Scene-linear value of a middle grey surface (common practice). */
export const MIDDLE_GREY = 0.18;

/**
 * The filmic curve is the response of Naka & Rushton (1966), x^n / (x^n + s^n): a straight line over the logarithm of
 * light with a soft toe and shoulder. `s` is set so that middle grey stays where it is.
 */
const CONTRAST = 1.25;
const HALF_RESPONSE = MIDDLE_GREY * ((1 - MIDDLE_GREY) / MIDDLE_GREY) ** (1 / CONTRAST);
/** The light of half response, to the curve's power. */
export const HALF_POWER = HALF_RESPONSE ** CONTRAST;
/** Before the curve each channel lends this share to the others, so that very bright colours go to white. */
const CROSSTALK = 0.06;

export function filmicCurve(linear: number): number {
  if (linear <= 0) return 0;
  const power = linear ** CONTRAST;
  return power === Infinity ? 1 : power / (power + HALF_POWER);
}

const clamp01 = (value: number): number => (value > 0 ? (value < 1 ? value : 1) : 0);

/** A look-up table as a view uses it. */
export interface ViewTable {
  lut: CubeLut;
  /** What the table is made for. */
  input: 'linear' | 'srgb' | 'acescct';
  /** Share of the table against plain sRGB. */
  strength: number;
}

/** One channel's curve from light (after any crosstalk) to the display's encoded 0..1, without the clip at its ends. */
export interface View {
  name: ViewName;
  crosstalk: number;
  curve(linear: number): number;
  encode(display: number): number;
  /** A table in place of curve and encoding. */
  table?: ViewTable | undefined;
}

const VIEWS: Record<ViewName, View> = {
  srgb: { name: 'srgb', crosstalk: 0, curve: clamp01, encode: encodeSrgb },
  filmic: { name: 'filmic', crosstalk: CROSSTALK, curve: filmicCurve, encode: encodeSrgb },
  clip: { name: 'clip', crosstalk: 0, curve: clamp01, encode: (display) => display },
  lut: { name: 'lut', crosstalk: 0, curve: clamp01, encode: encodeSrgb },
};

const tableViews = new WeakMap<CubeLut, Map<string, View>>();

/** The view of a name; that of a table is the same for the same table and settings. */
export function viewOf(name: ViewName, table?: ViewTable): View {
  if (!table) return VIEWS[name];
  const { lut, input, strength } = table;
  const known = tableViews.get(lut) ?? new Map<string, View>();
  tableViews.set(lut, known);
  const key = `${input} ${strength}`;
  const view = known.get(key) ?? { ...VIEWS.lut, table };
  known.set(key, view);
  return view;
}

/** How scene light is encoded for a table: through a matrix, then a straight line up to its end and a curve above. */
export interface TableEncoding {
  matrix?: Matrix;
  /** No light is darker. */
  floor: number;
  line: { end: number; slope: number; start: number };
  curve(light: number): number;
}

export const TABLE_ENCODINGS: Record<ViewTable['input'], TableEncoding> = {
  linear: { floor: -Infinity, line: { end: Infinity, slope: 1, start: 0 }, curve: (light) => light },
  // The curve goes on above white.
  srgb: { floor: 0, line: SRGB_LINE, curve: encodeSrgb },
  acescct: { matrix: REC709_TO_AP1, floor: -Infinity, line: ACESCCT_LINE, curve: encodeAcescct },
};

/** What writes the encoded values 0..1 of a scene-linear colour under a view with a table. */
export function tableReader({
  lut,
  input,
  strength,
}: ViewTable): (r: number, g: number, b: number, out: Triple) => void {
  const read = lutReader(lut);
  const encoding = TABLE_ENCODINGS[input];
  const { matrix, floor } = encoding;
  const encode = (light: number): number => encoding.curve(Math.max(floor, light));
  const place: Triple = [0, 0, 0];
  return (r, g, b, out) => {
    for (let c = 0; c < 3; c++) {
      const row = matrix?.[c as 0];
      place[c] = encode(row ? row[0] * r + row[1] * g + row[2] * b : c === 0 ? r : c === 1 ? g : b);
    }
    read(place[0], place[1], place[2], out);
    const plain = 1 - strength;
    out[0] = clamp01(strength * out[0] + (plain && plain * encodeSrgb(clamp01(r))));
    out[1] = clamp01(strength * out[1] + (plain && plain * encodeSrgb(clamp01(g))));
    out[2] = clamp01(strength * out[2] + (plain && plain * encodeSrgb(clamp01(b))));
  };
}

/**
 * Scene-linear planes to the display's encoded values, interleaved RGB, 0..1. `gain` multiplies the light first.
 * Where a view mixes channels, the mixture is taken back after the curve, so that only what the curve pressed
 * together near white loses colour.
 */
export function applyView(view: View, rgb: readonly Float32Array[], gain: number, out: Float32Array): void {
  const [r, g, b] = rgb as [Float32Array, Float32Array, Float32Array];
  if (view.table) {
    const read = tableReader(view.table);
    const colour: Triple = [0, 0, 0];
    for (let i = 0; i < r.length; i++) {
      read(gain * r[i]!, gain * g[i]!, gain * b[i]!, colour);
      out.set(colour, 3 * i);
    }
    return;
  }
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
