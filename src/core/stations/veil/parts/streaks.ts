import { hexToLinear } from '../../../color/hex';
import { LUMINANCE, type Triple } from '../../../color/primaries';
import type { Look } from '../../../look/look';
import { streakHalf, streakRow, unevenness, weightedSum, type Streak } from '../../../optics/streak';
import { feedOf, type PartContext, type PartDefinition, type PartFactory, type VeilPart } from './part';
import { hueGains, partColour } from './part-colour';
import { halfKernel, kernelOfRuns } from './pixel-kernel';

type StreakSettings = Look['veil']['streaks'][number];

/** Lengths from the light at which its colour is that of the end. */
const END_AT = 3;
/** Seeds of one frame and of the next lie so far apart. */
const FRAMES_APART = 7919;

/** A colour's gains by the distance in lengths: none at the light, the middle's, and the end's. */
function gradient({ middleColour, middleAt, endColour }: StreakSettings): (distance: number) => Triple {
  const middle = hueGains(hexToLinear(middleColour));
  const end = hueGains(hexToLinear(endColour));
  const between = (a: Triple, b: Triple, t: number): Triple =>
    a.map((value, c) => value + (b[c]! - value) * Math.min(1, t)) as Triple;
  return (distance) =>
    distance < middleAt
      ? between([1, 1, 1], middle, distance / middleAt)
      : between(middle, end, (distance - middleAt) / (END_AT - middleAt));
}

/** The line that settings make on a frame, before its light is weighted, in pixels. */
function lineOf({ length, back, thickness, angle, fading }: StreakSettings, { frame }: PartContext): Streak {
  return {
    length: length * frame.height,
    back: back * length * frame.height,
    thickness: thickness * frame.height,
    angle: (angle * Math.PI) / 180,
    fading,
  };
}

/** Its weight along the line for each channel, or for all in one, and the light that each has then. */
function weightsOf(
  streak: StreakSettings,
  line: Streak,
  { frame, frameNumber }: PartContext,
): { weights: readonly Streak['weight'][]; sums: Triple } {
  const { uneven, unevenSize, seed, flickers } = streak;
  const number = flickers ? seed + FRAMES_APART * (frameNumber + 1) : seed;
  const curve = unevenness(number, unevenSize * frame.height);
  const rough = (u: number): number => 1 + uneven * (curve(u) - 1);
  // Unevenness takes light from here and gives it to there.
  const scale = uneven > 0 ? 1 / weightedSum(line, rough) : 1;
  const isTinted = [streak.middleColour, streak.endColour].some((hex) => new Set(hexToLinear(hex)).size > 1);
  if (!isTinted)
    return { weights: [uneven > 0 ? (u): number => scale * rough(u) : undefined], sums: [1, 1, 1] };
  const colourAt = gradient(streak);
  const sides = { ahead: line.length, behind: line.back! };
  const weights = [0, 1, 2].map((c) => (u: number): number => {
    const length = u < 0 ? sides.behind : sides.ahead;
    return scale * rough(u) * colourAt(Math.abs(u) / Math.max(length, 1e-6))[c]!;
  });
  const sums = weights.map((weight) => weightedSum(line, weight)) as Triple;
  // The luminance of white stays, whatever is left of rounding.
  const luminance = sums.reduce((sum, value, c) => sum + value * LUMINANCE[c]!, 0);
  return { weights, sums: sums.map((value) => value / luminance) as Triple };
}

function partOf(look: Look, context: PartContext, index: number): VeilPart & { on: boolean } {
  const streak = look.veil.streaks[index]!;
  const { on, amount, boost, boostAbove } = streak;
  const line = lineOf(streak, context);
  const { weights, sums } = weightsOf(streak, line, context);
  const fed = feedOf(look, streak.feed);
  const isTurned = line.back === line.length && streak.uneven === 0;
  const { middleColour, middleAt, endColour, uneven, unevenSize, seed, flickers } = streak;
  const worn = uneven > 0 && [uneven, unevenSize, seed, flickers && context.frameNumber];
  return {
    name: `veil.streaks[${index}]`,
    on,
    // Of light that is boosted more is drawn out; a lens cannot draw out more than there is.
    amount: Math.min(1, amount * boost),
    ...partColour(streak),
    ...fed,
    ...(boost > 1 && { feed: { ...fed.feed, boost: { gain: boost, above: boostAbove } }, ownFeed: true }),
    key: JSON.stringify([line, middleColour, middleAt, endColour, worn]),
    sums,
    kernels: (width, height) =>
      weights.map((weight) => {
        const weighted = { ...line, ...(weight && { weight }) };
        return isTurned
          ? halfKernel(streakHalf(weighted, width, height), width)
          : kernelOfRuns(streakRow(weighted, width), width, height);
      }),
  };
}

const make: PartFactory = (look, context) =>
  look.veil.streaks.map((_, index) => partOf(look, context, index));

/** Lines through every light, as cylinders in the lens draw them. */
export const streaks: PartDefinition = { id: 'streaks', isGlare: true, make };
