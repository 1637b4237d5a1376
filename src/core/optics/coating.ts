/** What lies on a lens's surfaces against reflections. */
export const COATINGS = ['bare', 'single', 'broad'] as const;
export type Coating = (typeof COATINGS)[number];

/** Index of the single layer, magnesium fluoride (Macleod 1969). */
export const FILM_INDEX = 1.38;
/** What a broadband coating of many layers leaves at right incidence (from memory: 0.2 to 0.5 %). */
export const BROADBAND = 0.003;

export interface CoatingOptions {
  coating: Coating;
  /** At which a single layer is a quarter of a wave, nm. */
  coatingWavelength: number;
}

/** An interface that light meets. */
export interface Interface {
  /** Indices before and behind it. */
  from: number;
  to: number;
  /** Cosine of the angle between ray and normal, 0 to 1. */
  cosine: number;
  /** nm */
  wavelength: number;
}

/** Cosine in a medium by Snell's law; undefined where light is reflected whole. */
function cosineIn(from: number, cosine: number, to: number): number | undefined {
  const square = 1 - (from / to) ** 2 * (1 - cosine * cosine);
  return square > 0 ? Math.sqrt(square) : undefined;
}

/** Fresnel's amplitudes across and along the plane of incidence. */
const across = (n: number, c: number, m: number, d: number): number => (n * c - m * d) / (n * c + m * d);
const along = (n: number, c: number, m: number, d: number): number => (m * c - n * d) / (m * c + n * d);

/** Share of unpolarised light that a bare interface reflects (Fresnel; Born & Wolf 1959, 1.5). */
export function fresnelReflectance({ from, to, cosine }: Omit<Interface, 'wavelength'>): number {
  const inside = cosineIn(from, cosine, to);
  if (inside === undefined) return 1;
  return (across(from, cosine, to, inside) ** 2 + along(from, cosine, to, inside) ** 2) / 2;
}

/** The same under one layer of a quarter of a wave, by interference of its two faces (Born & Wolf 1959, 1.6.4). */
export function filmReflectance(
  { from, to, cosine, wavelength }: Interface,
  designWavelength: number,
): number {
  const film = cosineIn(from, cosine, FILM_INDEX);
  const inside = cosineIn(from, cosine, to);
  if (film === undefined || inside === undefined) return 1;
  const phase = (Math.PI * film * designWavelength) / wavelength;
  const share = (first: number, second: number): number => {
    const cross = 2 * first * second * Math.cos(phase);
    return (first ** 2 + second ** 2 + cross) / (1 + (first * second) ** 2 + cross);
  };
  return (
    (share(across(from, cosine, FILM_INDEX, film), across(FILM_INDEX, film, to, inside)) +
      share(along(from, cosine, FILM_INDEX, film), along(FILM_INDEX, film, to, inside))) /
    2
  );
}

/** What an interface reflects under a coating. Cemented surfaces, glass against glass, have none. */
export function reflectance(meeting: Interface, { coating, coatingWavelength }: CoatingOptions): number {
  const { from, to } = meeting;
  const bare = fresnelReflectance(meeting);
  const isCemented = Math.min(from, to) > 1.05;
  if (coating === 'bare' || isCemented) return bare;
  if (coating === 'single') return filmReflectance(meeting, coatingWavelength);
  // Towards grazing it grows as the bare surface's does.
  return Math.min(1, (BROADBAND * bare) / fresnelReflectance({ from, to, cosine: 1 }));
}
