import { smoothStep } from '../image/smooth-step';

/** The outline of the aperture on the unit disc. */
export interface PupilShape {
  /** Blades; fewer than 3 make a disc. */
  blades: number;
  /** 0 straight edges, 1 a circle. */
  curvature: number;
  /** Degrees, clockwise. */
  rotation: number;
}

/** Stops from where the blades have drawn back to where they are as curved as they are. */
const DRAWN_BACK = 2;

/** What shapes a pupil, and the f-stop at which its blades have drawn back behind the round rim; 0 is never. */
export interface Blades extends PupilShape {
  openAt: number;
}

/** The pupil's shape at an f-stop: towards the widest the blades draw back and it grows round (common practice). */
export function shapeAt({ blades, curvature, rotation, openAt }: Blades, fStop: number): PupilShape {
  const stops = openAt > 0 ? 2 * Math.log2(fStop / openAt) : DRAWN_BACK;
  const round = 1 - smoothStep(stops / DRAWN_BACK);
  return { blades, rotation, curvature: curvature + (1 - curvature) * round };
}

const OUTLINE_POINTS = 192;

/** The outline as a convex polygon, its corners on the unit circle; y goes down. */
export function pupilOutline({ blades, curvature, rotation }: PupilShape): [x: number, y: number][] {
  const turn = (rotation * Math.PI) / 180;
  const straight = blades < 3 ? 1 : curvature;
  const sector = (2 * Math.PI) / Math.max(3, blades);
  const each = Math.max(1, Math.round(OUTLINE_POINTS / Math.max(3, blades)));
  const count = each * Math.max(3, blades);
  return Array.from({ length: count }, (_, k) => {
    const angle = (k / each) * sector;
    const within = angle - Math.floor(k / each) * sector;
    // Distance of a regular polygon's edge, drawn out towards the circle.
    const edge = Math.cos(sector / 2) / Math.cos(within - sector / 2);
    const radius = edge + (1 - edge) * straight;
    // A blade's corner points up.
    const direction = angle - Math.PI / 2 + turn;
    return [radius * Math.cos(direction), radius * Math.sin(direction)];
  });
}

/** The share of the unit disc that the outline lets through. */
export function pupilArea(shape: PupilShape): number {
  const points = pupilOutline(shape);
  const doubled = points.reduce((sum, [x, y], k) => {
    const [u, v] = points[(k + 1) % points.length]!;
    return sum + x * v - u * y;
  }, 0);
  return doubled / (2 * Math.PI);
}
