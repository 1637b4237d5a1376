import { scaledSize, type Plate } from './plate';
import { SettingError } from '../errors';
import { depthSteps, withoutSteps, type DepthSteps } from './smooth-depth';
import type { Pass } from '../image/passes';
import { channelFloats } from '../image/picture';
import type { Look } from '../look/look';

/** Metres in a unit of the depth pass. */
export const METRES = { m: 1, dm: 0.1, cm: 0.01, mm: 0.001, ft: 0.3048, in: 0.0254 } as const;
/** Whatever is farther, or has no distance, lies here. */
export const FARTHEST = 1e7;
const NEAREST = 1e-4;

/** The pass that a look reads distances from, if the render has it. */
function depthPass(plate: Plate, look: Look): Pass | undefined {
  const { pass } = look.focus.depth;
  return pass === 'depth' ? plate.depth : plate.passes.find((one) => one.name === pass);
}

/** What of a look its reading of a depth pass depends on. */
export function depthReads({ focus: { depth }, camera }: Look): unknown {
  return [depth, depth.reading === 'ray' && [camera.focalLength, camera.sensorWidth]];
}

/** Whether a render has a pass that a look reads distances from. */
export function hasOwnDepth(plate: Plate, look: Look): boolean {
  return depthPass(plate, look) !== undefined;
}

/** A distance that can be computed with. What is 0, negative or not a number is no distance: sky. */
const held = (z: number): number => (z > 0 ? Math.min(FARTHEST, Math.max(NEAREST, z)) : FARTHEST);

/** Planar distances in metres of every pixel of a render at full size, all finite and over 0. */
export function readOwnDepth(plate: Plate, look: Look): Float32Array {
  const pass = depthPass(plate, look);
  if (!pass) {
    const { pass: name } = look.focus.depth;
    throw new SettingError(
      name === 'depth' ? `${plate.name} has no depth` : `${plate.name} has no pass ${name}`,
      { where: 'focus.depth.pass', todo: 'Bring in a depth pass, or say in the pass table which one it is' },
    );
  }
  const { channel } = pass.channels[0]!;
  const asStored = channelFloats(channel);
  const stored = look.focus.depth.smooth ? withoutSteps(channel, asStored, plate.picture) : asStored;
  const toDistance = reading(look);
  const out = stored.map((value) => held(toDistance(value)));
  if (look.focus.depth.reading === 'ray') {
    const cosine = fieldCosine(plate, look);
    const { width } = plate.picture;
    for (let i = 0; i < out.length; i++) out[i]! *= cosine(i % width, Math.floor(i / width));
  }
  return out;
}

/** The planar distance at one pixel of a render; undefined outside the picture and without depth. */
export function ownDistanceAt(plate: Plate, look: Look, x: number, y: number): number | undefined {
  const { width, height } = plate.picture;
  const pass = depthPass(plate, look);
  if (!pass || x < 0 || y < 0 || x >= width || y >= height) return undefined;
  const { samples } = pass.channels[0]!.channel;
  const at = y * width + x;
  const [value] = channelFloats({ samples: samples.subarray(at, at + 1) });
  const distance = held(reading(look)(value!));
  return look.focus.depth.reading === 'ray' ? distance * fieldCosine(plate, look)(x, y) : distance;
}

function reading(look: Look): (value: number) => number {
  const { reading: kind, unit, near, far, white } = look.focus.depth;
  const metres = METRES[unit];
  switch (kind) {
    case 'normalised':
      return (value) => {
        const share = white === 'far' ? value : 1 - value;
        return near + Math.min(1, Math.max(0, share)) * (far - near);
      };
    case 'inverse':
      return (value) => (value > 0 ? metres / value : FARTHEST);
    default:
      return (value) => value * metres;
  }
}

/** What makes of a distance from the camera one along its axis: the cosine of the field angle at a pixel. */
function fieldCosine(plate: Plate, look: Look): (x: number, y: number) => number {
  const { focalLength, sensorWidth } = look.camera;
  const { frame } = plate;
  const pitch = sensorWidth / frame.width / focalLength;
  const [cx, cy] = [frame.x + frame.width / 2 - 0.5, frame.y + frame.height / 2 - 0.5];
  return (x, y) => 1 / Math.hypot(1, (x - cx) * pitch, (y - cy) * pitch);
}

/** Near or far of a normalised depth, moved so that a place at a share of the way lies at a distance. */
export function endThrough(
  end: 'near' | 'far',
  share: number,
  distance: number,
  { near, far }: { near: number; far: number },
): number | undefined {
  const moved = end === 'near' ? (distance - share * far) / (1 - share) : near + (distance - near) / share;
  return moved >= 0.001 && moved <= 100_000 ? moved : undefined;
}

/** What may be wrong with a depth pass, in words for the person. */
export function depthWarnings(plate: Plate, look: Look): string[] {
  const { depth } = look.focus;
  const pass = depthPass(plate, look);
  if (!pass) return ['there is no depth pass'];
  const stored = channelFloats(pass.channels[0]!.channel);
  let [low, high] = [Infinity, -Infinity];
  const levels = new Set<number>();
  for (const value of stored) {
    if (!Number.isFinite(value)) continue;
    if (value < low) low = value;
    if (value > high) high = value;
    if (levels.size <= 256) levels.add(value);
  }
  if (!(high > low)) return ['every distance is the same'];
  const out: string[] = [];
  const steps = depthSteps(stored);
  if (steps) out.push(stepsInWords(steps, look, low, high));
  else if (levels.size <= 256)
    out.push(`there are only ${levels.size} distances: 8 bits band when they are blurred`);
  if (depth.reading !== 'normalised') {
    const none = stored.reduce((count, value) => count + (value > 0 ? 0 : 1), 0);
    if (none > 0)
      out.push(
        `${percent(none / stored.length)} of the depth (${none} pixels) is no distance (0, negative or not a number): it counts as sky`,
      );
    if (high <= 1 && depth.reading === 'planar')
      out.push('no distance exceeds 1: is the depth normalised or inverse?');
  } else if (low < 0 || high > 1) out.push('normalised distances go beyond 0 to 1 and are cut there');
  for (const end of ['low', 'high'] as const) {
    const share = clippedShare(stored, low, high, end);
    if (share > 0)
      out.push(
        `${percent(share)} of the depth is cut off at its ${end === 'low' ? 'least' : 'greatest'} value`,
      );
  }
  const mixed = mixedEdges(stored, plate.picture.width);
  if (mixed > MIXED)
    out.push(
      `${percent(mixed)} of the edges hold values between the surfaces (anti-aliased): they are taken as mixtures`,
    );
  return out;
}

/** What the steps of a depth of 8 bits are in metres, at both ends of what it holds. */
function stepsInWords({ step, count }: DepthSteps, look: Look, low: number, high: number): string {
  const metresAt = reading(look);
  const sizes = [low, high - step].map((value) =>
    Math.abs(held(metresAt(value + step)) - held(metresAt(value))),
  );
  const [small, large] = sizes.sort((a, b) => a - b).map((size) => `${Number(size.toPrecision(2))} m`);
  const each = small === large ? `steps of ${small}` : `steps of ${small} to ${large}`;
  const smooth = look.focus.depth.smooth;
  return `8 bits: ${count} distances in ${each}, ${smooth ? 'smoothed within surfaces' : 'which band when they are blurred'}`;
}

const percent = (share: number): string => `${(share * 100).toFixed(share < 0.1 ? 1 : 0)} %`;

/** Values pile up at an end, more than this share of all, ... */
const PILE = 0.005;
/** ... and go on just before it, in the hundredth of the range next to it, instead of standing alone as a sky does. */
const BESIDE = 0.0005;

/** Share of values at an end of the range, if what leads up to it shows that there was more. */
function clippedShare(stored: Float32Array, low: number, high: number, end: 'low' | 'high'): number {
  const [at, near] = end === 'low' ? [low, low + 0.01 * (high - low)] : [high, high - 0.01 * (high - low)];
  let [piled, beside] = [0, 0];
  for (const value of stored) {
    if (value === at) piled++;
    else if (end === 'low' ? value < near : value > near) beside++;
  }
  return piled > PILE * stored.length && beside > BESIDE * stored.length ? piled / stored.length : 0;
}

/** More mixed edges than these make an anti-aliased depth: pixels between two steps happen without it too. */
const MIXED = 0.25;
/** Neighbours whose values differ by more than this factor belong to two surfaces. */
const STEP = 1.3;

/** Of the places where two even surfaces meet in a row, the share in which one pixel has a value between them. */
function mixedEdges(stored: Float32Array, width: number): number {
  const apart = (a: number, b: number): boolean => a > STEP * b || b > STEP * a;
  const even = (a: number, b: number): boolean => Math.abs(a - b) < 0.02 * Math.abs(a);
  let [mixed, hard] = [0, 0];
  for (let i = 0; i + 4 < stored.length; i++) {
    if (i % width > width - 5) continue;
    const [a, b, c, d, e] = [stored[i]!, stored[i + 1]!, stored[i + 2]!, stored[i + 3]!, stored[i + 4]!];
    if (!even(a, b)) continue;
    if (even(c, d) && apart(b, c)) hard++;
    else if (even(d, e) && apart(b, d)) {
      const between = (c - b) / (d - b);
      if (between > 0.1 && between < 0.9) mixed++;
    }
  }
  return mixed + hard > 20 ? mixed / (mixed + hard) : 0;
}

/** Distances at a scale: of one pixel in each larger one, never of a mean of surfaces. */
export function sampleDistances(full: Float32Array, plate: Plate, scale: number): Float32Array {
  const { width, height } = plate.picture;
  const size = scaledSize(plate, scale);
  if (size.width === width && size.height === height) return full;
  const out = new Float32Array(size.width * size.height);
  for (let y = 0; y < size.height; y++) {
    const row = Math.min(height - 1, Math.floor(((y + 0.5) * height) / size.height)) * width;
    for (let x = 0; x < size.width; x++)
      out[y * size.width + x] =
        full[row + Math.min(width - 1, Math.floor(((x + 0.5) * width) / size.width))]!;
  }
  return out;
}
