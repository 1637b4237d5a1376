import { z } from 'zod';
import { clamp } from '../image/clamp';

const frame = z.number().int().min(-1e6).max(1e6);

export const reelSchema = z.strictObject({
  /** Frames a second. */
  rate: z.number().min(1).max(240).default(24),
  /** What it goes from and to; null is as the sequence on the bench does. */
  first: frame.nullable().default(null),
  last: frame.nullable().default(null),
  /** The part that is played and printed; null is from, or to, its end. */
  in: frame.nullable().default(null),
  out: frame.nullable().default(null),
  /** Whether frames that have no file show the one before, or are passed over. */
  gaps: z.enum(['hold', 'skip']).default('hold'),
  /** The frame that is looked at. */
  playhead: frame.default(1),
});

/** The frames of a shot. A still is one long frame. */
export type Reel = z.output<typeof reelSchema>;

export const NEW_REEL: Reel = reelSchema.parse({});

/** From one frame to another, both among them. */
export interface FrameRange {
  first: number;
  last: number;
}

/** What a still's reel goes to if nothing else is said: five seconds. */
const STILL_SECONDS = 5;
/** No reel is longer. */
const MOST_FRAMES = 100_000;

/** The frames of a plate's render on the bench; a single picture has no number. */
interface Sequence {
  versions: readonly { frames: readonly { frame: number | null }[] }[];
  version: number;
}

/** The numbers of the frames that a plate has files of, in order; none of a single picture. */
export const numbersOf = ({ versions, version }: Sequence): number[] =>
  versions[version]!.frames.flatMap(({ frame: number }) => number ?? []);

/** The frames that a reel goes over while a plate is on the bench. */
export function rangeOfReel(reel: Reel, plate: Sequence | undefined): FrameRange {
  const numbers = plate ? numbersOf(plate) : [];
  const first = reel.first ?? numbers[0] ?? 1;
  const last = reel.last ?? numbers.at(-1) ?? first + Math.round(STILL_SECONDS * reel.rate) - 1;
  return { first, last: clamp(last, first, first + MOST_FRAMES - 1) };
}

/** The part of it that is played and printed. */
export function playedRange(reel: Reel, plate: Sequence | undefined): FrameRange {
  const whole = rangeOfReel(reel, plate);
  const first = clamp(reel.in ?? whole.first, whole.first, whole.last);
  return { first, last: clamp(reel.out ?? whole.last, first, whole.last) };
}

/** Place of the frame that a plate shows at a frame of the reel: its own or, where that is missing, the one before; the first before all. */
export function placeAt({ versions, version, frame: own }: Sequence & { frame: number }, at: number): number {
  const { frames } = versions[version]!;
  if (frames.length === 1) return 0;
  const place = frames.findLastIndex(({ frame: number }) => number !== null && number <= at);
  return frames.some(({ frame: number }) => number !== null) ? Math.max(0, place) : own;
}

/** Whether a frame is passed over. */
export const isSkipped = (reel: Reel, plate: Sequence | undefined, at: number): boolean => {
  if (reel.gaps === 'hold' || !plate) return false;
  const numbers = numbersOf(plate);
  return numbers.length > 1 && !numbers.includes(at);
};

/** The frame so many further on, within a range, without those that are passed over. It stays if there is none. */
export function stepped(
  reel: Reel,
  plate: Sequence | undefined,
  { from, by, range, loop = false }: { from: number; by: 1 | -1; range: FrameRange; loop?: boolean },
): number {
  const count = range.last - range.first + 1;
  for (let k = 1; k <= count; k++) {
    let at = from + k * by;
    if (at < range.first || at > range.last) {
      if (!loop) return from;
      at = range.first + ((((at - range.first) % count) + count) % count);
    }
    if (!isSkipped(reel, plate, at)) return at;
  }
  return from;
}
