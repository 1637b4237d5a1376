import type { DrawnShape, Mask, MaskShape, ValueShape } from '../settings/mask';
import type { Rectangle } from './rectangle';
import { smoothStep } from './smooth-step';

/** What gives the coverage, at the size of the plane, of shapes that are not drawn. */
export interface MaskSources {
  /** A channel's values, or where it holds a number. */
  matte(channel: string, id: number | null): Float32Array;
  value(shape: ValueShape): Float32Array;
}

/** A mask as coverage 0 to 1 per pixel. */
export function maskPlane(
  mask: Mask,
  width: number,
  height: number,
  frame: Rectangle,
  sources: MaskSources,
): Float32Array {
  let out = new Float32Array(width * height);
  for (const [index, shape] of mask.shapes.entries()) {
    const plane = shapePlane(shape, width, height, frame, sources);
    if (shape.invert) for (let i = 0; i < plane.length; i++) plane[i] = 1 - plane[i]!;
    out = index === 0 ? plane : combine(out, plane, shape.combine);
  }
  // A mask without shapes holds nothing back.
  if (mask.shapes.length === 0) out.fill(1);
  else if (mask.invert) for (let i = 0; i < out.length; i++) out[i] = 1 - out[i]!;
  return out;
}

function combine(
  a: Float32Array<ArrayBuffer>,
  b: Float32Array<ArrayBuffer>,
  how: MaskShape['combine'],
): Float32Array<ArrayBuffer> {
  for (let i = 0; i < a.length; i++) {
    const [x, y] = [a[i]!, b[i]!];
    a[i] = how === 'add' ? Math.max(x, y) : how === 'subtract' ? x * (1 - y) : x * y;
  }
  return a;
}

function shapePlane(
  shape: MaskShape,
  width: number,
  height: number,
  frame: Rectangle,
  sources: MaskSources,
): Float32Array<ArrayBuffer> {
  if (shape.kind === 'matte') return new Float32Array(sources.matte(shape.channel, shape.id));
  if (shape.kind === 'value') return new Float32Array(sources.value(shape));
  const inside = insideOf(shape, frame);
  const out = new Float32Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) out[y * width + x] = inside(x + 0.5, y + 0.5);
  return out;
}

/** Coverage as a function of a place in pixels. A feather of 0 is one pixel wide, so that no edge is a staircase. */
function insideOf(shape: DrawnShape, frame: Rectangle): (x: number, y: number) => number {
  const place = ([u, v]: readonly [number, number]): [number, number] => [
    frame.x + u * frame.width,
    frame.y + v * frame.height,
  ];
  if (shape.kind === 'gradient') {
    const [ax, ay] = place(shape.from);
    const [bx, by] = place(shape.to);
    const [dx, dy] = [bx - ax, by - ay];
    const length = Math.max(1e-6, dx * dx + dy * dy);
    return (x, y) => 1 - smoothStep(((x - ax) * dx + (y - ay) * dy) / length);
  }
  const soft = Math.max(1, shape.feather * frame.height);
  const edge = (distance: number): number => smoothStep(0.5 - distance / soft);
  if (shape.kind === 'ellipse') {
    const [cx, cy] = place(shape.centre);
    const [rx, ry] = shape.radii.map((radius) => Math.max(0.5, radius * frame.height)) as [number, number];
    const angle = (shape.rotation * Math.PI) / 180;
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
    return (x, y) => {
      const u = ((x - cx) * cos + (y - cy) * sin) / rx;
      const v = ((y - cy) * cos - (x - cx) * sin) / ry;
      const f = Math.hypot(u, v);
      // Distance to first order: the implicit function over the length of its gradient.
      const slope = f > 1e-9 ? Math.hypot(u / rx, v / ry) / f : 1 / Math.min(rx, ry);
      return edge((f - 1) / slope);
    };
  }
  const points = shape.points.map(place);
  return (x, y) => edge(polygonDistance(points, x, y));
}

/** Distance of a place to a polygon's outline, negative inside (even-odd). */
function polygonDistance(points: readonly (readonly [number, number])[], x: number, y: number): number {
  let nearest = Infinity;
  let inside = false;
  for (let i = 0, j = points.length - 1; i < points.length; j = i++) {
    const [ax, ay] = points[i]!;
    const [bx, by] = points[j]!;
    const [ex, ey] = [bx - ax, by - ay];
    const [wx, wy] = [x - ax, y - ay];
    const t = Math.min(1, Math.max(0, (wx * ex + wy * ey) / Math.max(1e-12, ex * ex + ey * ey)));
    nearest = Math.min(nearest, (wx - ex * t) ** 2 + (wy - ey * t) ** 2);
    if (ay > y !== by > y && x < ax + ((y - ay) * ex) / ey) inside = !inside;
  }
  return Math.sqrt(nearest) * (inside ? -1 : 1);
}
