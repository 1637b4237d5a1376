import { smoothStep } from '../../../image/smooth-step';
import type { Size } from '../../../image/rectangle';
import { normal, seeded } from '../../../optics/seeded';

export interface DirtOptions {
  /** Diameter of a blot of middle size, pixels. */
  size: number;
  seed: number;
}

/** Blots cover about so much of the frame, if they lay side by side. */
const COVERED = 0.5;
const MOST_BLOTS = 2500;
/** Spread of the logarithm of their sizes. */
const SPREAD = 0.7;
/** Share of blots that were wiped out to a smear, and how much longer than broad these are. */
const SMEARED = 0.15;
const DRAWN_OUT = 7;
/** Film that lies on all of the glass, beside blots of strength 1. */
const FILM = 0.12;
/** Blots are out of focus: they fade from this share of their radius to its end. */
const FADING = 0.45;

/**
 * Dirt on glass too near to be in focus: a thin film, soft blots, and smears that lie in one direction. `width * height`
 * values of 0 and more, where the frame lies at (x, y). They go by the frame, so that a draft has the same dirt.
 */
export function dirtMap(
  { size, seed }: DirtOptions,
  { width, height }: Size,
  frame: Size & { x: number; y: number },
): Float32Array {
  const next = seeded(seed);
  const out = new Float32Array(width * height).fill(FILM);
  const wiped = Math.PI * next();
  const relative = size / frame.height;
  const aspect = frame.width / frame.height;
  const count = Math.min(MOST_BLOTS, Math.ceil((COVERED * aspect) / ((Math.PI / 4) * relative ** 2)));
  for (let k = 0; k < count; k++) {
    // Some lie partly outside.
    const [x, y] = [1.2 * next() - 0.1, 1.2 * next() - 0.1];
    const radius = Math.max(0.5, (size / 2) * Math.exp(SPREAD * normal(next)));
    const smeared = next() < SMEARED;
    const strength = next() ** 2 * (smeared ? 0.4 : 1);
    blot(out, { width, height }, [frame.x + x * frame.width, frame.y + y * frame.height], {
      radius,
      strength,
      stretch: smeared ? DRAWN_OUT : 1,
      angle: wiped + 0.15 * normal(next),
    });
  }
  return out;
}

function blot(
  out: Float32Array,
  { width, height }: Size,
  [cx, cy]: readonly [number, number],
  { radius, strength, stretch, angle }: { radius: number; strength: number; stretch: number; angle: number },
): void {
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  // The box about an ellipse that lies at a slant.
  const reachX = radius * Math.hypot(stretch * c, s);
  const reachY = radius * Math.hypot(stretch * s, c);
  const bottom = Math.min(height - 1, Math.floor(cy + reachY));
  const right = Math.min(width - 1, Math.floor(cx + reachX));
  for (let y = Math.max(0, Math.ceil(cy - reachY)); y <= bottom; y++)
    for (let x = Math.max(0, Math.ceil(cx - reachX)); x <= right; x++) {
      const [dx, dy] = [x + 0.5 - cx, y + 0.5 - cy];
      const distance = Math.hypot((dx * c + dy * s) / stretch, dy * c - dx * s) / radius;
      if (distance < 1) out[y * width + x]! += strength * smoothStep((1 - distance) / FADING);
    }
}
