import { smoothStep } from '../../image/smooth-step';
import type { Rectangle } from '../../image/rectangle';
import type { Look } from '../../look/look';
import { discOverlap } from '../../optics/lens/aberrations';
import type { GlassColour } from './colour';

/** Share of the light left at a field angle whose tangent is given: the fourth power of its cosine (Slussareff 1941). */
export function cosineFourth(tangent: number): number {
  return (1 + tangent * tangent) ** -2;
}

/**
 * Share of a pupil that the barrel leaves: a disc of the radius of the wide-open pupil, moved by `shift` of its radii,
 * over a pupil of a `radius` in the same unit (area of two discs in common).
 */
export function barrelLeaves(shift: number, radius: number): number {
  const [d, r] = [Math.abs(shift), Math.min(1, Math.max(1e-6, radius))];
  if (d <= 1 - r) return 1;
  if (d >= 1 + r) return 0;
  if (r === 1) return discOverlap(d);
  const own = r * r * Math.acos((d * d + r * r - 1) / (2 * d * r));
  const barrel = Math.acos((d * d + 1 - r * r) / (2 * d));
  const kite = 0.5 * Math.sqrt((-d + r + 1) * (d + r - 1) * (d - r + 1) * (d + r + 1));
  return (own + barrel - kite) / (Math.PI * r * r);
}

/** Whether a look's glass darkens anything. */
export function isVignetted({ glass }: Look): boolean {
  const { natural, optical, amount } = glass.vignette;
  return (
    glass.on && (natural > 0 || amount !== 0 || (glass.fromLens ? glass.bend.vignette > 0 : optical > 0))
  );
}

/** What of a look its vignetting depends on. */
export function vignetteReads({ glass, camera }: Look): unknown {
  const { natural, optical } = glass.vignette;
  const lens = natural > 0 || optical > 0;
  return [glass.vignette, lens && [camera.focalLength, camera.sensorWidth, camera.fStop]];
}

/** Share of the light that natural and optical vignetting leave at a distance from the axis, in half diagonals. */
export function lensFallOff(
  { glass, camera }: Look,
  { width, height }: Pick<Rectangle, 'width' | 'height'>,
  { passed }: Pick<GlassColour, 'passed'>,
): (radius: number) => number {
  const { natural, optical, wideOpen } = glass.vignette;
  const corner = ((camera.sensorWidth / width) * Math.hypot(width, height)) / 2 / camera.focalLength;
  const pupil = wideOpen / camera.fStop;
  return (radius) => {
    const cosine = 1 + natural * (cosineFourth(radius * corner) - 1);
    return cosine * (passed ? passed(radius) : barrelLeaves(optical * radius, pupil));
  };
}

/** Share of the light that the drawn vignette leaves at a place in shares of the frame. */
export function drawnFallOff(
  { glass }: Look,
  { width, height }: Pick<Rectangle, 'width' | 'height'>,
): (x: number, y: number) => number {
  const { amount, midpoint, roundness, x: middleX, y: middleY } = glass.vignette;
  const half = Math.hypot(width, height) / 2;
  // An oval as wide and high as the frame, a circle about it, or a shape that follows its edges: 1 in the corner.
  const round = Math.max(0, roundness);
  const [a, b] = [width, height].map((side) => (side / Math.SQRT2) * (1 - round) + half * round) as [
    number,
    number,
  ];
  const power = 2 + 6 * Math.max(0, -roundness);
  const corner = ((width / 2 / a) ** power + (height / 2 / b) ** power) ** (1 / power);
  return (x, y) => {
    const [u, v] = [(Math.abs(x - middleX) * width) / a, (Math.abs(y - middleY) * height) / b];
    const r = (u ** power + v ** power) ** (1 / power) / corner;
    return 1 - amount * smoothStep((r - midpoint) / (1 - midpoint));
  };
}

/** Steps of the table over the distance from the axis, to the half diagonal. */
const STEPS = 512;

/** What vignetting leaves of each pixel of a picture of `width * height`; `frame` is in its pixels. */
export function vignetteGains(
  look: Look,
  frame: Rectangle,
  { width, height }: { width: number; height: number },
  colour: Pick<GlassColour, 'passed'>,
): Float32Array {
  const out = new Float32Array(width * height);
  const half = Math.hypot(frame.width, frame.height) / 2;
  const [cx, cy] = [frame.x + frame.width / 2, frame.y + frame.height / 2];
  const fallOff = lensFallOff(look, frame, colour);
  const reach = Math.max(1, Math.hypot(Math.max(cx, width - cx), Math.max(cy, height - cy)) / half) + 0.01;
  const table = Float32Array.from({ length: STEPS + 2 }, (_, k) => fallOff((k / STEPS) * reach));
  const perPixel = STEPS / (half * reach);
  const drawn = look.glass.vignette.amount === 0 ? undefined : drawnFallOff(look, frame);
  for (let y = 0, i = 0; y < height; y++) {
    const dy = y + 0.5 - cy;
    for (let x = 0; x < width; x++, i++) {
      const dx = x + 0.5 - cx;
      const place = Math.sqrt(dx * dx + dy * dy) * perPixel;
      const below = Math.floor(place);
      const lens = table[below]! + (place - below) * (table[below + 1]! - table[below]!);
      out[i] = drawn
        ? lens * drawn((x + 0.5 - frame.x) / frame.width, (y + 0.5 - frame.y) / frame.height)
        : lens;
    }
  }
  return out;
}
