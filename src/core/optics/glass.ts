/** Wavelengths of the lines that glasses are told by, nm: g of mercury, F and C of hydrogen, d of helium. */
export const LINES = { g: 435.8343, F: 486.1327, d: 587.5618, C: 656.2725 } as const;

/** A glass by its index at the d line and its Abbe number; one without dispersion (air) has none. */
export interface Glass {
  nd: number;
  vd: number | null;
}

const micrometres = (nm: number): number => nm / 1000;
const power = (nm: number, exponent: number): number => micrometres(nm) ** exponent;

/** 1 / F^2 - 1 / C^2, per square micrometre. */
const SPAN = power(LINES.F, -2) - power(LINES.C, -2);

/**
 * The two terms of a glass's index, `A + B / lambda^2` with the wavelength in micrometres, from its index and its Abbe number
 * `V = (n_d - 1) / (n_F - n_C)` (Cauchy 1836; Born & Wolf 1959). Of crowns it is right to 1e-4, of dense flints to 7e-3.
 */
export function cauchy({ nd, vd }: Glass): { a: number; b: number } {
  const b = vd === null ? 0 : (nd - 1) / vd / SPAN;
  return { a: nd - b / micrometres(LINES.d) ** 2, b };
}

/** Index of a glass at a wavelength in nm. */
export function refractiveIndex(glass: Glass, wavelength: number): number {
  const { a, b } = cauchy(glass);
  return a + b / micrometres(wavelength) ** 2;
}

/** Abbe numbers for which the normal line holds. */
const [LEAST_ABBE, MOST_ABBE] = [20, 90];

/** Terms in 1 / lambda^2 and 1 / lambda^4 between two lines. */
const between = (from: number, to: number): readonly [number, number] => [
  power(from, -2) - power(to, -2),
  power(from, -4) - power(to, -4),
];
const F_TO_C = between(LINES.F, LINES.C);
const G_TO_F = between(LINES.g, LINES.F);
const DETERMINANT = F_TO_C[0] * G_TO_F[1] - F_TO_C[1] * G_TO_F[0];

/**
 * How far a glass of an Abbe number departs from its index at the d line, in units of what lies between the F and the C line:
 * by a third term of Cauchy's formula, so that the blue end rises as of most glasses, `(n_g - n_F) / (n_F - n_C) = 0.6438 -
 * 0.001682 V` (the normal line of partial dispersions; Hoogland 1974, from memory). Of dense flints it is right to 2e-3.
 */
export function relativeDispersion(abbe: number, wavelength: number): number {
  const partial = 0.6438 - 0.001682 * Math.min(MOST_ABBE, Math.max(LEAST_ABBE, abbe));
  const b = (G_TO_F[1] - F_TO_C[1] * partial) / DETERMINANT;
  const c = (F_TO_C[0] * partial - G_TO_F[0]) / DETERMINANT;
  const [second, fourth] = between(wavelength, LINES.d);
  return b * second + c * fourth;
}

/** Index at a wavelength in nm, with the third term of {@link relativeDispersion}. */
export function normalIndex({ nd, vd }: Glass, wavelength: number): number {
  return vd === null ? nd : nd + ((nd - 1) / vd) * relativeDispersion(vd, wavelength);
}

/** Reads a glass by its six digits: `517642` has an index of 1.517 and an Abbe number of 64.2 (MIL-G-174). */
export function parseGlassCode(text: string): { nd: number; vd: number } | undefined {
  const match = /^\s*(\d{3})[ .-]?(\d{3})\s*$/.exec(text);
  if (!match) return undefined;
  const vd = Number(match[2]) / 10;
  return vd >= 1 ? { nd: 1 + Number(match[1]) / 1000, vd } : undefined;
}

/** A material by name. */
export interface Material {
  id: string;
  label: string;
  nd: number;
  vd: number;
  source: string;
}

/**
 * Materials that are met in pictures: values at the d line, and Abbe numbers, of the Sellmeier formulas named as sources
 * (their coefficients from memory), or glass codes.
 */
export const MATERIALS: readonly Material[] = [
  { id: 'water', label: 'Water', nd: 1.3334, vd: 55.8, source: 'Daimon & Masumura 2007, 20 °C' },
  { id: 'silica', label: 'Fused silica', nd: 1.4585, vd: 67.8, source: 'Malitson 1965' },
  { id: 'crown', label: 'Crown', nd: 1.5168, vd: 64.2, source: 'glass code 517642' },
  { id: 'window', label: 'Window glass', nd: 1.523, vd: 58.6, source: 'glass code 523586' },
  { id: 'quartz', label: 'Quartz', nd: 1.5443, vd: 69.7, source: 'Ghosh 1999, ordinary ray' },
  { id: 'lead-crystal', label: 'Lead crystal', nd: 1.603, vd: 38.0, source: 'glass code 603380' },
  { id: 'flint', label: 'Dense flint', nd: 1.7847, vd: 25.8, source: 'glass code 785258' },
  { id: 'corundum', label: 'Corundum', nd: 1.7682, vd: 72.3, source: 'Malitson & Dodge 1972, ordinary ray' },
  { id: 'zirconia', label: 'Cubic zirconia', nd: 2.1588, vd: 33.5, source: 'Wood & Nassau 1982' },
  { id: 'diamond', label: 'Diamond', nd: 2.4175, vd: 55.3, source: 'Peter 1923' },
];
