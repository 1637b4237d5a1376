import { fileStem } from '../image/file-names';
import { BEAUTY, holdsLight, lightChannels, type Pass } from '../image/passes';
import { channelFloats, type Channel } from '../image/picture';
import { placeNearest, placePlane, type Placement } from '../image/place-plane';
import { blackRgb, mapRgb, type Rgb } from '../image/rgb';
import type { Look } from '../look/look';
import { elementOf, type ElementSettings } from '../settings/element';
import { depthReads, FARTHEST, hasOwnDepth, ownDistanceAt, readOwnDepth, sampleDistances } from './depth';
import { channelPlane, passLight, scaledFrame, scaledSize, stackOf, type Plate } from './plate';

/** One render of a plate with what a look says of it. */
export interface Element {
  /** Its place in the stack, from the back. */
  index: number;
  plate: Plate;
  settings: ElementSettings;
}

/** The elements of a plate that are part of the picture, back to front. */
export function elementsOf(plate: Plate, look: Look): Element[] {
  return stackOf(plate)
    .map((one, index) => ({ index, plate: one, settings: elementOf(look, index) }))
    .filter(({ settings }) => settings.on);
}

/** The name by which settings call an element: its file's, without the ending. */
export const elementName = ({ name }: Pick<Plate, 'name'>): string => fileStem(name);

/** What a look says of where its elements are and what they cover; part of the key of everything that depends on it. */
export function geometryReads(look: Look): unknown {
  const { elements } = look;
  const goesByDepth = elements.some(({ byDepth }) => byDepth);
  const places = elements.map(
    ({ on, opacity, mode, heldOut, byDepth, x, y, scale, distance, source, pass }) => [
      on,
      opacity,
      mode,
      heldOut,
      byDepth,
      x,
      y,
      scale,
      distance,
      source === 'beauty' ? pass : source,
    ],
  );
  return [places, goesByDepth && depthReads(look)];
}

/** Whether a plate is one render that is taken as it is. */
export function isAlone(plate: Plate, look: Look): boolean {
  if (plate.stack) return false;
  const element: Element = { index: 0, plate, settings: elementOf(look, 0) };
  const { on, opacity, distance, mode, alpha } = element.settings;
  return (
    on &&
    opacity === 1 &&
    distance === 0 &&
    mode === 'over' &&
    alpha === 'associated' &&
    isInPlace(element, plate)
  );
}

/** Whether an element lies as it was rendered: whole, and pixel on pixel of the plate. */
export function isInPlace({ plate, settings }: Element, whole: Plate): boolean {
  const { x, y, scale } = settings;
  const { width, height } = plate.picture;
  return (
    x === 0 &&
    y === 0 &&
    scale === 1 &&
    width === whole.picture.width &&
    height === whole.picture.height &&
    plate.frame.x === whole.frame.x &&
    plate.frame.y === whole.frame.y
  );
}

/** Where an element's pixels at a scale lie in those of the plate: the middles of the two frames meet, and are then moved apart. */
export function placementOf({ plate, settings }: Element, whole: Plate, scale: number): Placement {
  const [own, frame] = [scaledFrame(plate, scale), scaledFrame(whole, scale)];
  const step = 1 / settings.scale;
  const first = (middle: number, moved: number, ownMiddle: number): number =>
    (0.5 - middle - moved) * step + ownMiddle - 0.5;
  return {
    step,
    x: first(frame.x + frame.width / 2, settings.x * frame.width, own.x + own.width / 2),
    y: first(frame.y + frame.height / 2, settings.y * frame.height, own.y + own.height / 2),
  };
}

/** A plane of an element, at a scale, as it lies in the plate; beside it there is nothing. */
export function placed(plane: Float32Array, element: Element, whole: Plate, scale: number): Float32Array {
  if (isInPlace(element, whole)) return plane;
  const size = scaledSize(whole, scale);
  return placePlane(plane, scaledSize(element.plate, scale), size, placementOf(element, whole, scale));
}

/** The pass that an element's light is taken from; undefined for a sum of passes. */
export function chosenPass({ plate, settings: { source, pass } }: Element): Pass | undefined {
  if (source === 'sum') return undefined;
  return pass === BEAUTY ? plate.beauty : plate.passes.find((one) => one.name === pass && holdsLight(one));
}

/** The alpha of a render at a scale: that of the chosen pass, or else of the beauty. */
export function alphaOf(element: Element, scale: number): Float32Array | undefined {
  const alpha = alphaChannel(element);
  return alpha && channelPlane(element.plate, alpha, scale);
}

function alphaChannel(element: Element): Channel | undefined {
  const chosen = chosenPass(element);
  return (chosen && lightChannels(chosen).alpha) ?? lightChannels(element.plate.beauty).alpha;
}

const clampUnit = (value: number): number => (value > 0 ? Math.min(1, value) : 0);

/** How much of every pixel an element takes up at a scale, opacity apart, from 0 to 1; undefined if it is all of each. */
export function alphaInPlace(element: Element, whole: Plate, scale: number): Float32Array | undefined {
  const own = alphaOf(element, scale);
  const inPlace = isInPlace(element, whole);
  if (!own && inPlace) return undefined;
  const size = scaledSize(element.plate, scale);
  const plane = own ?? new Float32Array(size.width * size.height).fill(1);
  return placed(plane, element, whole, scale).map(clampUnit);
}

/** What of each pixel an element covers at a scale, one number for all if it is everywhere the same; 0 for one that only brings light. */
function coverOf(element: Element, whole: Plate, scale: number): Float32Array | number {
  const { mode, opacity } = element.settings;
  if (mode !== 'over') return 0;
  const alpha = alphaInPlace(element, whole, scale);
  return alpha ? alpha.map((value) => opacity * value) : opacity;
}

/** What is left open when something covers it where it counts. */
function coveredBy(
  open: Float32Array | undefined,
  cover: Float32Array | number,
  pixels: number,
  counts: (i: number) => boolean = () => true,
): Float32Array | undefined {
  if (cover === 0) return open;
  const left = open ?? new Float32Array(pixels).fill(1);
  for (let i = 0; i < pixels; i++)
    if (counts(i)) left[i]! *= 1 - (typeof cover === 'number' ? cover : cover[i]!);
  return left;
}

/**
 * What elements let through to each of a list back to front, at a scale; undefined where nothing lies before it. Only what lies over
 * others covers them; one that goes by depth lies behind what is nearer.
 */
export function transmissions(
  elements: readonly Element[],
  whole: Plate,
  look: Look,
  scale: number,
): (Float32Array | undefined)[] {
  const covers = elements.map((element) => coverOf(element, whole, scale));
  const { width, height } = scaledSize(whole, scale);
  const pixels = width * height;
  if (!elements.some(({ settings }) => settings.byDepth)) {
    let open: Float32Array | undefined;
    return covers.reduceRight<(Float32Array | undefined)[]>((out, cover) => {
      const before = open;
      open = coveredBy(before?.slice(), cover, pixels);
      return [before, ...out];
    }, []);
  }
  const distances = distancesInPlace(elements, whole, look).each.map((full) =>
    sampleDistances(full, whole, scale),
  );
  return elements.map(({ settings }, k) => {
    const own = distances[k]!;
    return covers.reduce<Float32Array | undefined>((open, cover, j) => {
      const other = distances[j]!;
      if (j > k)
        return coveredBy(
          open,
          cover,
          pixels,
          elements[j]!.settings.byDepth ? (i) => other[i]! <= own[i]! : undefined,
        );
      return j < k && settings.byDepth ? coveredBy(open, cover, pixels, (i) => other[i]! < own[i]!) : open;
    }, undefined);
  });
}

/** An element's distances at full size and where it is typed, one for all; undefined if it has none of its own. */
export function ownDistances(element: Element, look: Look): Float32Array | number | undefined {
  const { plate, settings } = element;
  if (settings.distance > 0) return settings.distance;
  if (!hasOwnDepth(plate, look)) return undefined;
  const distances = readOwnDepth(plate, look);
  const alpha = alphaOf(element, 1);
  return alpha ? spreadOverEdges(distances, alpha, plate.picture.width) : distances;
}

/** Alpha rises by this much within two pixels at the edge of a surface; what is softer is smoke and the like. */
const EDGE_RISE = 0.2;
const NOTHING = 1 / 512;

/**
 * Distances with those of a surface carried on over its soft edge, where a render holds those of what lies behind, and over what is
 * empty about it.
 */
export function spreadOverEdges(distances: Float32Array, alpha: Float32Array, width: number): Float32Array {
  const height = distances.length / width;
  const out = distances.slice();
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const own = alpha[i]!;
      if (own <= NOTHING || own > 1 - EDGE_RISE) continue;
      let best = i;
      for (let v = Math.max(0, y - 2); v <= Math.min(height - 1, y + 2); v++)
        for (let u = Math.max(0, x - 2); u <= Math.min(width - 1, x + 2); u++)
          if (alpha[v * width + u]! > alpha[best]!) best = v * width + u;
      if (alpha[best]! - own > EDGE_RISE) out[i] = distances[best]!;
    }
  fillEmpty(out, alpha, width, height);
  return out;
}

/** Gives empty pixels the distance of a pixel nearby that is not: once from above and the left, once from the other side. */
function fillEmpty(distances: Float32Array, alpha: Float32Array, width: number, height: number): void {
  const steps = new Uint16Array(distances.length).fill(65535);
  const take = (i: number, from: number): void => {
    if (steps[from]! >= steps[i]! - 1) return;
    steps[i] = steps[from]! + 1;
    distances[i] = distances[from]!;
  };
  for (let i = 0; i < alpha.length; i++) if (alpha[i]! > NOTHING) steps[i] = 0;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (x > 0) take(i, i - 1);
      if (y > 0) take(i, i - width);
    }
  for (let y = height - 1; y >= 0; y--)
    for (let x = width - 1; x >= 0; x--) {
      const i = y * width + x;
      if (x < width - 1) take(i, i + 1);
      if (y < height - 1) take(i, i + width);
    }
  for (let i = 0; i < steps.length; i++) if (steps[i] === 65535) distances[i] = FARTHEST;
}

/** Distances of a plate's elements, and of what is seen of them all, of each pixel at full size. */
interface StackDistances {
  /** One without any of its own lies where what is seen behind it does. */
  each: Float32Array[];
  seen: Float32Array;
}

export function distancesInPlace(elements: readonly Element[], whole: Plate, look: Look): StackDistances {
  const size = whole.picture;
  const even = (distance: number): Float32Array => new Float32Array(size.width * size.height).fill(distance);
  const each: Float32Array[] = [];
  let seen: Float32Array | undefined;
  for (const element of elements) {
    const own = ownDistances(element, look);
    let plane: Float32Array;
    if (own === undefined) plane = seen ?? even(FARTHEST);
    else if (typeof own === 'number') plane = even(own);
    else if (isInPlace(element, whole)) plane = own;
    else plane = placeNearest(own, element.plate.picture, size, placementOf(element, whole, 1), FARTHEST);
    each.push(plane);
    seen = nearer(seen, plane, element, whole);
  }
  return { each, seen: seen ?? even(FARTHEST) };
}

/** Half of a pixel must be covered for its distance to be that of what covers it. */
const SEEN = 0.5;

/** Distances of what is seen when an element comes before others. */
function nearer(
  behind: Float32Array | undefined,
  own: Float32Array,
  element: Element,
  whole: Plate,
): Float32Array {
  if (!behind) return own;
  if (element.settings.mode !== 'over') return behind;
  const { opacity, byDepth } = element.settings;
  const alpha = alphaInPlace(element, whole, 1);
  return behind.map((value, i) => {
    const isSeen = opacity * (alpha ? alpha[i]! : 1) >= SEEN && !(byDepth && own[i]! > value);
    return isSeen ? own[i]! : value;
  });
}

/** Distances of what is seen of a plate of several elements, at full size. */
export const seenDistances = (plate: Plate, look: Look): Float32Array =>
  distancesInPlace(elementsOf(plate, look), plate, look).seen;

/** The same at one pixel; undefined where nothing tells a distance. */
export function seenDistanceAt(plate: Plate, look: Look, x: number, y: number): number | undefined {
  let seen: number | undefined;
  for (const element of elementsOf(plate, look)) {
    const { settings, plate: own } = element;
    const { x: left, y: top, step } = placementOf(element, plate, 1);
    const [u, v] = [Math.round(left + x * step), Math.round(top + y * step)];
    const distance = settings.distance > 0 ? settings.distance : ownDistanceAt(own, look, u, v);
    const isBehind = settings.byDepth && distance !== undefined && seen !== undefined && distance > seen;
    const covers = settings.mode === 'over' && !isBehind && coverAt(element, u, v) >= SEEN;
    if (seen === undefined || covers) seen = distance ?? seen;
  }
  return seen;
}

/** What an element takes up of one of its own pixels; nothing beside it. */
function coverAt(element: Element, u: number, v: number): number {
  const { width, height } = element.plate.picture;
  if (u < 0 || v < 0 || u >= width || v >= height) return 0;
  const channel = alphaChannel(element);
  if (!channel) return element.settings.opacity;
  const at = v * width + u;
  return channelFloats({ samples: channel.samples.subarray(at, at + 1) })[0]! * element.settings.opacity;
}

/** Whether any element of a plate has distances. */
export function hasDistances(plate: Plate, look: Look): boolean {
  return elementsOf(plate, look).some(
    ({ plate: own, settings }) => settings.distance > 0 || hasOwnDepth(own, look),
  );
}

/** An element's light at a scale as it lies in the plate, multiplied by its alpha. */
export function associatedInPlace(element: Element, rgb: Rgb, whole: Plate, scale: number): Rgb {
  const loose = element.settings.alpha === 'unassociated' ? alphaOf(element, scale) : undefined;
  return mapRgb(rgb, (plane) =>
    placed(loose ? plane.map((value, i) => value * clampUnit(loose[i]!)) : plane, element, whole, scale),
  );
}

/** A pass of an element that settings name, as `pass` of all elements that have it, or as `element:pass`. */
export interface NamedPass {
  element: Element;
  pass: Pass;
}

/** Splits `element:pass`; the element alone means its beauty. */
export function passesNamed(plate: Plate, look: Look, name: string): NamedPass[] {
  const elements = elementsOf(plate, look);
  const of = (element: Element, passName: string): NamedPass[] => {
    const { plate: own } = element;
    const pass = passName === BEAUTY ? own.beauty : own.passes.find((one) => one.name === passName);
    return pass ? [{ element, pass }] : [];
  };
  const all = elements.flatMap((element) => of(element, name));
  if (all.length) return all;
  return elements.flatMap((element) => {
    const own = elementName(element.plate);
    if (name === own) return of(element, BEAUTY);
    return name.startsWith(`${own}:`) ? of(element, name.slice(own.length + 1)) : [];
  });
}

/** Light of a pass as it is seen: of each element that has it, what lies before it taken off. */
export function seenPass(
  named: readonly NamedPass[],
  plate: Plate,
  look: Look,
  scale: number,
  lightOf: (one: NamedPass) => Rgb = ({ element, pass }) =>
    associatedInPlace(element, passLight(element.plate, pass, scale).rgb, plate, scale),
): Rgb {
  const elements = elementsOf(plate, look);
  const open = transmissions(elements, plate, look, scale);
  const { width, height } = scaledSize(plate, scale);
  const sum = blackRgb(width * height);
  for (const one of named) {
    const { element } = one;
    const through = open[elements.findIndex(({ index }) => index === element.index)];
    const { opacity } = element.settings;
    lightOf(one).forEach((plane, c) => {
      const out = sum[c]!;
      for (let i = 0; i < out.length; i++) out[i]! += plane[i]! * opacity * (through ? through[i]! : 1);
    });
  }
  return sum;
}
