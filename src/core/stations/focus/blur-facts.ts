import { METRES } from '../../light/depth';
import type { Plate } from '../../light/plate';
import type { Look } from '../../look/look';
import { blurDiameter, fStopForBlur, pupilDiameter, sharpLimits } from '../../optics/camera';
import { radiusReader } from './radius';

/** Farther than this is sky, and no subject. */
const SKY = 1e5;
/** Pixels that are looked at, at most. */
const SAMPLES = 40_000;
/** Of the subjects, so many may lie nearer or farther than what is told. */
const OUTLIERS = 0.005;

/** What of a picture blurs, and why it may not. */
export interface BlurFacts {
  /** Where the subjects lie, in metres: all but a few hundredths of them. Undefined if all is sky. */
  subjects: { near: number; far: number } | undefined;
  /** Diameter of the largest disc, in pixels of the full-size picture, and share of the pixels whose discs are over one pixel. */
  largest: number;
  blurred: number;
  /** What is wrong, in words for the person. */
  warnings: string[];
}

/** Tells what of a plate blurs under a look whose Focus is on. `distances` are those of its pixels, in metres, or of some of them. */
export function blurFacts(look: Look, plate: Plate, distances: Float32Array): BlurFacts {
  const stride = Math.max(1, Math.floor(distances.length / SAMPLES));
  const sampled = Float64Array.from(
    { length: Math.ceil(distances.length / stride) },
    (_, k) => distances[k * stride]!,
  );
  const radiusAt = radiusReader(look, plate, 1);
  let [largest, blurred] = [0, 0];
  for (const distance of sampled) {
    const disc = 2 * Math.abs(radiusAt(distance));
    largest = Math.max(largest, disc);
    if (disc > 1) blurred++;
  }
  const solid = sampled.filter((distance) => distance < SKY).sort();
  const at = (share: number): number => solid[Math.min(solid.length - 1, Math.floor(share * solid.length))]!;
  const subjects = solid.length > 0 ? { near: at(OUTLIERS), far: at(1 - OUTLIERS) } : undefined;
  const facts = { subjects, largest, blurred: blurred / sampled.length };
  return { ...facts, warnings: subjects ? warn(look, plate, { ...facts, subjects }) : [] };
}

type Facts = Omit<BlurFacts, 'warnings'> & { subjects: { near: number; far: number } };

const metres = (value: number): string => `${Number(value.toPrecision(3))} m`;

/** The widest openings that lenses have: the least f-stop, and the largest pupil in mm (common practice). */
const [FASTEST, WIDEST] = [0.95, 150];
/** A view is distant if nothing is nearer, and close if nothing is farther, in metres. */
const [DISTANT, CLOSE] = [20, 0.3];
/** Discs over this share of the picture's height look large in a distant view. */
const LARGE = 0.01;

function warn(look: Look, plate: Plate, { subjects, largest }: Facts): string[] {
  const { camera, focus } = look;
  const { near, far } = subjects;
  const out: string[] = [];
  if (largest <= 1) out.push(`nothing blurs over a pixel: ${whyNot(look, subjects)}`);
  const pupil = pupilDiameter(camera) * focus.amount;
  const isTooWide = camera.fStop / Math.max(1e-6, focus.amount) < FASTEST || pupil > WIDEST;
  if (near > DISTANT && largest > LARGE * plate.frame.height && isTooWide)
    out.push(
      `discs of ${largest.toFixed(0)} px in a view that begins at ${metres(near)} are larger than a lens could make: its pupil would be ${pupil.toFixed(0)} mm wide. They make the scene look like a model${otherUnit(look, subjects)}`,
    );
  if (far < CLOSE)
    out.push(
      `all of it lies within ${metres(far)}: the unit of the depth may be larger than it is read${otherUnit(look, subjects)}`,
    );
  return out;
}

/** Why nothing blurs. */
function whyNot(look: Look, subjects: Facts['subjects']): string {
  const { camera, focus } = look;
  if (focus.amount === 0) return 'the amount is 0';
  const { near, far } = sharpLimits(camera);
  const stop = fStopForBlur(camera, subjects.near, focus.breathing, camera.sensorWidth / 500);
  const open = stop && stop >= 0.5 ? ` f/${Number(stop.toPrecision(2))} would blur the nearest` : '';
  if (subjects.near >= near && subjects.far <= far)
    return `the subjects, from ${metres(subjects.near)} to ${metres(subjects.far)}, lie in what is sharp at f/${camera.fStop}, ${metres(near)} to ${Number.isFinite(far) ? metres(far) : 'infinity'}${otherUnit(look, subjects) || (open && `;${open}`)}`;
  return `the discs are small at f/${camera.fStop} and ${camera.focalLength} mm${otherUnit(look, subjects) || (open && `;${open}`)}`;
}

/** Another unit under which the subjects would lie where people mostly render: the middle of them between these, in metres. */
const USUAL = [0.5, 20] as const;

function otherUnit(look: Look, { near, far }: Facts['subjects']): string {
  const { reading, unit } = look.focus.depth;
  const middle = Math.sqrt(near * far);
  if (reading === 'normalised' || (middle >= USUAL[0] && middle <= USUAL[1])) return '';
  const fits = Object.entries(METRES).find(([name, size]) => {
    const scaled = (middle * size) / METRES[unit];
    return name !== unit && scaled >= USUAL[0] && scaled <= USUAL[1];
  });
  return fits ? `. Is the depth in ${fits[0]} instead of ${unit}?` : '';
}

/** A disc that is wished at a distance: its diameter in pixels of the full-size picture, and what is to make it. */
export interface WishedDisc {
  distance: number;
  pixels: number;
  by: 'fStop' | 'amount';
}

/** Least and greatest values that the settings take. */
const LIMITS = { fStop: [0.5, 64], amount: [0, 10] } as const;

/** The setting that makes a wished disc, or why none does. */
export function solveDisc(
  look: Look,
  frame: { width: number; height: number },
  { distance, pixels, by }: WishedDisc,
): { path: string; value: number } | { why: string } {
  const { camera, focus } = look;
  const perPixel = camera.sensorWidth / frame.width;
  const most = 2 * focus.limit * frame.height;
  if (pixels > most * (1 + 1e-9))
    return { why: `the limit of Focus holds discs under ${most.toFixed(0)} px: raise it for larger ones` };
  const own = Math.abs(blurDiameter(camera, distance, focus.breathing));
  const place = `${metres(distance)} away`;
  if (own * focus.amount < 1e-9 && (by === 'fStop' || own < 1e-9))
    return {
      why: own < 1e-9 ? `what is ${place} is in focus: nothing blurs it` : 'the amount is 0: no f-stop blurs',
    };
  const wanted = pixels * perPixel;
  const value =
    by === 'fStop' ? fStopForBlur(camera, distance, focus.breathing, wanted / focus.amount)! : wanted / own;
  const [least, greatest] = LIMITS[by];
  if (value < least || value > greatest)
    return {
      why:
        by === 'fStop'
          ? `${pixels} px at what is ${place} would take f/${Number(value.toPrecision(2))}: f-stops go from ${least} to ${greatest}. Solve for the amount, or move the focus`
          : `${pixels} px at what is ${place} would take an amount of ${Number(value.toPrecision(2))}: it goes up to ${greatest}. Open the f-stop`,
    };
  return { path: by === 'fStop' ? 'camera.fStop' : 'focus.amount', value: Number(value.toPrecision(3)) };
}
