/** Pigmentation of the eye: 0 for black, 0.5 brown, 1.2 light blue (CIE 135/1). */
const PIGMENT = 0.5;

/**
 * The total glare function of the eye: what it scatters to an angle (degrees) from a point of light, as a share of the
 * light per steradian (Vos & van den Berg 1999, CIE 135/1). `age` in years.
 */
export function eyeGlare(angle: number, age: number, pigment = PIGMENT): number {
  const t = (age / 70) ** 4;
  const bell = (width: number): number => 1 + (angle / width) ** 2;
  const core = 9.2e6 / bell(0.0046) ** 1.5 + 1.5e5 / bell(0.045) ** 1.5;
  const wide =
    400 / bell(0.1) + 3e-8 * angle * angle + pigment * (1300 / bell(0.1) ** 1.5 + 0.8 / bell(0.1) ** 0.5);
  return (1 - 0.08 * t) * core + (1 + 1.6 * t) * wide + 0.0025 * pigment;
}
