/** Draws ghosts: light of small parts of the entrance, each where the rays about it lead. */
import { BLOCKS, MASK_MARGIN, MOST_PARTS, NODE, Plan } from './plan';
import { stopCrossings, traceGrid } from './trace';

/** A ray whose edge is over this (squared) lies so far out that nothing about it comes through. */
const FAR: f32 = 16;
/** A ray that met no surface, or was reflected whole. */
const LOST: f32 = 1e8;

/** Where a ray says how far out it is. */
const EDGE: usize = 12;

function edgeOf(node: usize): f32 {
  return load<f32>(node, EDGE);
}

/** The least and the greatest of a quantity at a cell's corners. */
function leastOf(a: usize, b: usize, c: usize, d: usize, at: usize): f32 {
  return min<f32>(
    min<f32>(load<f32>(a + at), load<f32>(b + at)),
    min<f32>(load<f32>(c + at), load<f32>(d + at)),
  );
}

function mostOf(a: usize, b: usize, c: usize, d: usize, at: usize): f32 {
  return max<f32>(
    max<f32>(load<f32>(a + at), load<f32>(b + at)),
    max<f32>(load<f32>(c + at), load<f32>(d + at)),
  );
}

/** How far out a ray is where it crosses the stop, at most; in semi-apertures. */
function stopReach(node: usize, crossings: i32): f32 {
  let most: f32 = 0;
  for (let k = 0; k < crossings; k++) {
    const at = node + 16 + 8 * <usize>k;
    most = max<f32>(most, max<f32>(abs(load<f32>(at)), abs(load<f32>(at, 4))));
  }
  return most;
}

function comesThrough(node: usize, crossings: i32): bool {
  return edgeOf(node) <= 1.02 && stopReach(node, crossings) <= 1.02;
}

/**
 * Narrows the start rectangle to the rays that come through (those of the first wavelength), and measures where they lead
 * in the first, the second and the third wavelength. `scratch` holds three grids of rays.
 */
export function surveyGhost(address: usize, scratch: usize): void {
  const plan = changetype<Plan>(address);
  const nodes = plan.nodes;
  const crossings = stopCrossings(plan);
  plan.lit = 0;
  for (let pass = 0; pass < 5; pass++) {
    traceGrid(plan, 0, scratch);
    let through = 0;
    let first = nodes;
    let last = -1;
    let upper = nodes;
    let lower = -1;
    for (let row = 0; row < nodes; row++)
      for (let column = 0; column < nodes; column++) {
        if (!comesThrough(scratch + <usize>(row * nodes + column) * NODE, crossings)) continue;
        through++;
        first = min(first, column);
        last = max(last, column);
        upper = min(upper, row);
        lower = max(lower, row);
      }
    if (through === 0) return;
    const stepX: f32 = (2 * plan.halfX) / <f32>(nodes - 1);
    const stepY: f32 = (2 * plan.halfY) / <f32>(nodes - 1);
    const left = plan.middleX - plan.halfX + <f32>(first - (first ? 1 : 8)) * stepX;
    const right = plan.middleX - plan.halfX + <f32>(last + (last < nodes - 1 ? 1 : 8)) * stepX;
    const above = plan.middleY - plan.halfY + <f32>(upper - (upper ? 1 : 8)) * stepY;
    const below = plan.middleY - plan.halfY + <f32>(lower + (lower < nodes - 1 ? 1 : 8)) * stepY;
    const isCut = first === 0 || upper === 0 || last === nodes - 1 || lower === nodes - 1;
    const narrow = !isCut && last - first + 3 >= (nodes * 3) / 4 && lower - upper + 3 >= (nodes * 3) / 4;
    plan.middleX = (left + right) / 2;
    plan.middleY = (above + below) / 2;
    plan.halfX = (right - left) / 2;
    plan.halfY = (below - above) / 2;
    if (narrow) break;
  }
  plan.lit = 1;
  // Room for other colours, and for the cells at the rim, which are not drawn.
  plan.halfX *= 1 + <f32>5 / <f32>(nodes - 1);
  plan.halfY *= 1 + <f32>5 / <f32>(nodes - 1);
  const grid = <usize>(nodes * nodes) * NODE;
  const colours = min(3, plan.wavelengths);
  for (let k = 0; k < colours; k++) traceGrid(plan, k, scratch + <usize>k * grid);
  measureBounds(plan, scratch, crossings, colours);
}

/** Bounds of all rays that come through or stand beside one that does, and how far the colours of a ray lie apart. */
function measureBounds(plan: Plan, scratch: usize, crossings: i32, colours: i32): void {
  const nodes = plan.nodes;
  const grid = <usize>(nodes * nodes) * NODE;
  let left: f32 = 1e9;
  let top: f32 = 1e9;
  let right: f32 = -1e9;
  let bottom: f32 = -1e9;
  let apart: f32 = 0;
  for (let row = 0; row < nodes; row++)
    for (let column = 0; column < nodes; column++) {
      const at = <usize>(row * nodes + column) * NODE;
      if (!hasNeighbourThrough(scratch, nodes, row, column, crossings)) continue;
      const x0 = load<f32>(scratch + at);
      const y0 = load<f32>(scratch + at, 4);
      for (let k = 0; k < colours; k++) {
        const node = scratch + <usize>k * grid + at;
        if (edgeOf(node) > LOST) continue;
        const x = load<f32>(node) * plan.pitch + plan.axisX;
        const y = load<f32>(node, 4) * plan.pitch + plan.axisY;
        left = min(left, x);
        right = max(right, x);
        top = min(top, y);
        bottom = max(bottom, y);
        if (edgeOf(scratch + at) > LOST) continue;
        const dx = (load<f32>(node) - x0) * plan.pitch;
        const dy = (load<f32>(node, 4) - y0) * plan.pitch;
        apart = max<f32>(apart, sqrt(dx * dx + dy * dy));
      }
    }
  store<f32>(plan.bounds, left);
  store<f32>(plan.bounds, top, 4);
  store<f32>(plan.bounds, right, 8);
  store<f32>(plan.bounds, bottom, 12);
  plan.apart = apart;
}

function hasNeighbourThrough(grid: usize, nodes: i32, row: i32, column: i32, crossings: i32): bool {
  for (let y = max(0, row - 1); y <= min(nodes - 1, row + 1); y++)
    for (let x = max(0, column - 1); x <= min(nodes - 1, column + 1); x++)
      if (comesThrough(grid + <usize>(y * nodes + x) * NODE, crossings)) return true;
  return false;
}

/** The plane of the stop's mask whose pixels are about as large as a step: where it begins, its rows, and its pixels a semi-aperture. */
let maskPlane: usize = 0;
let maskRow: usize = 0;
let maskScale: f32 = 0;

function chooseMask(plan: Plan, step: f32): void {
  let plane = plan.mask;
  let width = plan.maskSize;
  for (let level = 1; level < plan.maskLevels && 2 < 0.7 * step * <f32>width; level++) {
    plane += <usize>((width + 2 * MASK_MARGIN) * (width + 2 * MASK_MARGIN)) * 4;
    width >>= 1;
  }
  maskPlane = plane;
  maskRow = <usize>(width + 2 * MASK_MARGIN) * 4;
  maskScale = 0.5 * <f32>width;
}

/** What the stop lets through at a place in semi-apertures. Beyond the mask lies a dark margin. */
function passes(x: f32, y: f32): f32 {
  const most: f32 = 2 * maskScale + 1.9;
  const u = min<f32>(max<f32>((x + 1) * maskScale + 1.5, 0), most);
  const v = min<f32>(max<f32>((y + 1) * maskScale + 1.5, 0), most);
  const column = <i32>u;
  const row = <i32>v;
  const at = maskPlane + <usize>row * maskRow + <usize>column * 4;
  const right = u - <f32>column;
  const a = load<f32>(at);
  const c = load<f32>(at + maskRow);
  const upper = a + right * (load<f32>(at, 4) - a);
  const lower = c + right * (load<f32>(at + maskRow, 4) - c);
  return upper + (v - <f32>row) * (lower - upper);
}

/** Least and greatest share that the stop lets through about a cell. */
let leastPassed: f32 = 0;
let mostPassed: f32 = 0;

/** Reads the extremes of the mask over the rectangle that a cell's corners span at the stop. */
function boundPassed(plan: Plan, a: usize, b: usize, c: usize, d: usize, at: usize): void {
  const left = leastOf(a, b, c, d, at);
  const right = mostOf(a, b, c, d, at);
  const top = leastOf(a, b, c, d, at + 4);
  const bottom = mostOf(a, b, c, d, at + 4);
  if (right < -1.05 || left > 1.05 || bottom < -1.05 || top > 1.05) {
    leastPassed = 0;
    mostPassed = 0;
    return;
  }
  if (left < -1 || right > 1 || top < -1 || bottom > 1) leastPassed = 0;
  const half = <f32>BLOCKS / 2;
  const lastBlock = BLOCKS - 1;
  const firstColumn = max(0, <i32>((left + 1) * half));
  const lastColumn = min(lastBlock, <i32>((right + 1) * half));
  const firstRow = max(0, <i32>((top + 1) * half));
  const lastRow = min(lastBlock, <i32>((bottom + 1) * half));
  for (let row = firstRow; row <= lastRow; row++)
    for (let column = firstColumn; column <= lastColumn; column++) {
      const block = plan.blocks + <usize>(row * BLOCKS + column) * 8;
      leastPassed = min<f32>(leastPassed, load<f32>(block));
      mostPassed = max<f32>(mostPassed, load<f32>(block, 4));
    }
}

/** Four rays of a column about a cell, mixed. */
function mixColumn(node: usize, pitch: usize, weights: usize): v128 {
  const a = f32x4.mul(v128.load(node), v128.load32_splat(weights));
  const b = f32x4.mul(v128.load(node + pitch), v128.load32_splat(weights, 4));
  const c = f32x4.mul(v128.load(node + 2 * pitch), v128.load32_splat(weights, 8));
  const d = f32x4.mul(v128.load(node + 3 * pitch), v128.load32_splat(weights, 12));
  return f32x4.add(f32x4.add(a, b), f32x4.add(c, d));
}

function mixFour(a: v128, b: v128, c: v128, d: v128, weights: usize): v128 {
  const low = f32x4.add(
    f32x4.mul(a, v128.load32_splat(weights)),
    f32x4.mul(b, v128.load32_splat(weights, 4)),
  );
  const high = f32x4.add(
    f32x4.mul(c, v128.load32_splat(weights, 8)),
    f32x4.mul(d, v128.load32_splat(weights, 12)),
  );
  return f32x4.add(low, high);
}

function apart(a: usize, b: usize, at: usize): f32 {
  return abs(load<f32>(a + at) - load<f32>(b + at));
}

/** The most that two of a cell's corners differ in a quantity. */
function widest(a: usize, b: usize, c: usize, d: usize, at: usize): f32 {
  return max<f32>(
    max<f32>(apart(a, b, at), apart(c, d, at)),
    max<f32>(max<f32>(apart(a, c, at), apart(b, d, at)), max<f32>(apart(a, d, at), apart(b, c, at))),
  );
}

/** Measures the light of a ghost, in all wavelengths; `scratch` holds a grid of rays. */
export function measureGhost(address: usize, scratch: usize): void {
  const plan = changetype<Plan>(address);
  const crossings = stopCrossings(plan);
  for (let k = 0; k < plan.wavelengths; k++) {
    traceGrid(plan, k, scratch);
    store<f64>(plan.flux + 8 * <usize>k, drawGrid(plan, k, scratch, crossings));
  }
}

/**
 * Draws the ghosts of a group, which share a blur, on the group's pixels, and blurs them. `scratch` holds a grid of rays, and
 * then a copy of the pixels.
 */
export function drawGroup(address: usize, scratch: usize): void {
  const group = changetype<Plan>(address);
  memory.fill(group.pixels, 0, <usize>(group.width * group.height) * 16);
  for (let ghost = 0; ghost < group.ghostCount; ghost++) {
    const plan = changetype<Plan>(load<usize>(group.ghosts + 4 * <usize>ghost));
    const crossings = stopCrossings(plan);
    for (let k = 0; k < plan.wavelengths; k++) {
      traceGrid(plan, k, scratch);
      drawGrid(plan, k, scratch, crossings);
    }
  }
  if (group.blur > 0.05) blurPixels(group, scratch);
  // Colours of single wavelengths lie outside of what is shown.
  const none = f32x4.splat(0);
  const end = group.pixels + <usize>(group.width * group.height) * 16;
  for (let at = group.pixels; at < end; at += 16) v128.store(at, f32x4.max(v128.load(at), none));
}

/** Draws one wavelength; returns the light that comes through, in square millimetres of the entrance. */
function drawGrid(plan: Plan, wavelength: i32, grid: usize, crossings: i32): f64 {
  const nodes = plan.nodes;
  const row = <usize>nodes * NODE;
  const area: f32 = (4 * plan.halfX * plan.halfY) / <f32>(nodes - 1) / <f32>(nodes - 1);
  const colour = v128.load(plan.colours + 16 * <usize>wavelength);
  let flux: f64 = 0;
  // The outermost cells have no rays beyond them to be bent by; nothing comes through there.
  for (let y = 1; y < nodes - 2; y++)
    for (let x = 1; x < nodes - 2; x++) {
      const a = grid + <usize>y * row + <usize>x * NODE;
      flux += <f64>drawCell(plan, a, row, crossings, area, colour);
    }
  return flux;
}

function drawCell(plan: Plan, a: usize, row: usize, crossings: i32, area: f32, colour: v128): f32 {
  const b = a + NODE;
  const c = a + row;
  const d = c + NODE;
  const least = leastOf(a, b, c, d, EDGE);
  const most = mostOf(a, b, c, d, EDGE);
  if (most > LOST) return 0;
  const edgeSpan = widest(a, b, c, d, EDGE);
  if (least - edgeSpan > 1 || least > FAR) return 0;
  const pitch = plan.pitch;
  const spanX = widest(a, b, c, d, 0) * pitch;
  const spanY = widest(a, b, c, d, 4) * pitch;
  if (plan.pixels && isOutside(plan, a, b, c, d, spanX, spanY)) return 0;
  let stopSpan: f32 = 0;
  let isOpen = true;
  for (let k = 0; k < crossings; k++) {
    const at = 16 + 8 * <usize>k;
    leastPassed = 1;
    mostPassed = 0;
    boundPassed(plan, a, b, c, d, at);
    if (mostPassed <= 0) return 0;
    isOpen = isOpen && leastPassed > 0.999;
    stopSpan = max<f32>(stopSpan, max<f32>(widest(a, b, c, d, at), widest(a, b, c, d, at + 4)));
  }
  const stepX = (apart(a, b, 0) + apart(c, d, 0) + apart(a, c, 0) + apart(b, d, 0)) * 0.5 * pitch;
  const stepY = (apart(a, b, 4) + apart(c, d, 4) + apart(a, c, 4) + apart(b, d, 4)) * 0.5 * pitch;
  const wanted = plan.pixels ? max<f32>(stepX, stepY) / plan.spacing : 0;
  const parts = min(MOST_PARTS, max(plan.pixels ? 1 : 2, <i32>ceil(wanted)));
  setCover(stepX, stepY, parts);
  const bent = isWhole(a, row);
  const weights = plan.weights + <usize>((parts * (parts - 1)) / 2) * 16 + (bent ? 0 : straightWeights());
  const share = area / <f32>(parts * parts);
  if (isOpen && most + edgeSpan < 1) return drawOpenParts(plan, a, row, parts, weights, share, colour);
  chooseMask(plan, stopSpan / <f32>parts);
  return drawParts(plan, a, row, crossings, parts, weights, edgeSpan / <f32>parts, share, colour);
}

/** Whether a cell lies beyond the ghost's pixels. */
function isOutside(plan: Plan, a: usize, b: usize, c: usize, d: usize, spanX: f32, spanY: f32): bool {
  const x = leastOf(a, b, c, d, 0);
  const y = leastOf(a, b, c, d, 4);
  const left = x * plan.pitch + plan.axisX - <f32>plan.left;
  const top = y * plan.pitch + plan.axisY - <f32>plan.top;
  return (
    left - spanX > <f32>plan.width ||
    top - spanY > <f32>plan.height ||
    left + 2 * spanX < 0 ||
    top + 2 * spanY < 0
  );
}

/** Whether all sixteen rays about a cell go through. */
function isWhole(a: usize, row: usize): bool {
  const corner = a - row - NODE;
  for (let v = 0; v < 4; v++)
    for (let u = 0; u < 4; u++) if (edgeOf(corner + <usize>v * row + <usize>u * NODE) > LOST) return false;
  return true;
}

/** Draws a cell that no edge and no mark touches. */
function drawOpenParts(
  plan: Plan,
  a: usize,
  row: usize,
  parts: i32,
  weights: usize,
  share: f32,
  colour: v128,
): f32 {
  const corner = a - row - NODE;
  const pitch = f32x4.splat(plan.pitch);
  const offset = f32x4(plan.axisX - <f32>plan.left, plan.axisY - <f32>plan.top, 0, 0);
  const draws = plan.pixels !== 0;
  let flux: f32 = 0;
  for (let v = 0; v < parts; v++) {
    const down = weights + 16 * <usize>v;
    const first = mixColumn(corner, row, down);
    const second = mixColumn(corner + NODE, row, down);
    const third = mixColumn(corner + 2 * NODE, row, down);
    const fourth = mixColumn(corner + 3 * NODE, row, down);
    for (let u = 0; u < parts; u++) {
      const ray = mixFour(first, second, third, fourth, weights + 16 * <usize>u);
      const light = share * f32x4.extract_lane(ray, 2);
      flux += light;
      if (draws)
        addPart(plan, f32x4.add(f32x4.mul(ray, pitch), offset), f32x4.mul(colour, f32x4.splat(light)));
    }
  }
  return flux;
}

function drawParts(
  plan: Plan,
  a: usize,
  row: usize,
  crossings: i32,
  parts: i32,
  weights: usize,
  edgeStep: f32,
  share: f32,
  colour: v128,
): f32 {
  const corner = a - row - NODE;
  const pitch = f32x4.splat(plan.pitch);
  const offset = f32x4(plan.axisX - <f32>plan.left, plan.axisY - <f32>plan.top, 0, 0);
  const sharp: f32 = 1 / max<f32>(edgeStep, 1e-6);
  let flux: f32 = 0;
  for (let v = 0; v < parts; v++) {
    const down = weights + 16 * <usize>v;
    const first = mixColumn(corner, row, down);
    const second = mixColumn(corner + NODE, row, down);
    const third = mixColumn(corner + 2 * NODE, row, down);
    const fourth = mixColumn(corner + 3 * NODE, row, down);
    const stops0 = mixColumn(corner + 16, row, down);
    const stops1 = mixColumn(corner + NODE + 16, row, down);
    const stops2 = mixColumn(corner + 2 * NODE + 16, row, down);
    const stops3 = mixColumn(corner + 3 * NODE + 16, row, down);
    for (let u = 0; u < parts; u++) {
      const across = weights + 16 * <usize>u;
      const ray = mixFour(first, second, third, fourth, across);
      const covered = min<f32>(1, 0.5 + (1 - f32x4.extract_lane(ray, 3)) * sharp);
      if (covered <= 0) continue;
      const stop = mixFour(stops0, stops1, stops2, stops3, across);
      let light = covered * share * f32x4.extract_lane(ray, 2);
      if (crossings > 0) light *= passes(f32x4.extract_lane(stop, 0), f32x4.extract_lane(stop, 1));
      if (crossings > 1) light *= passes(f32x4.extract_lane(stop, 2), f32x4.extract_lane(stop, 3));
      if (crossings > 2) {
        const last = mixFour(
          mixColumn(corner + 32, row, down),
          mixColumn(corner + NODE + 32, row, down),
          mixColumn(corner + 2 * NODE + 32, row, down),
          mixColumn(corner + 3 * NODE + 32, row, down),
          across,
        );
        light *= passes(f32x4.extract_lane(last, 0), f32x4.extract_lane(last, 1));
      }
      if (!(light > 0)) continue;
      flux += light;
      if (plan.pixels)
        addPart(plan, f32x4.add(f32x4.mul(ray, pitch), offset), f32x4.mul(colour, f32x4.splat(light)));
    }
  }
  return flux;
}

/** Bytes from the weights of bent cells to those of straight ones. */
function straightWeights(): usize {
  return <usize>((MOST_PARTS * (MOST_PARTS + 1)) / 2) * 16;
}

/** Size in pixels of what a part of the cell that is drawn covers: such rectangles lie side by side without gaps. */
let coverX: f32 = 1;
let coverY: f32 = 1;

function setCover(spanX: f32, spanY: f32, parts: i32): void {
  coverX = coverOf(spanX / <f32>parts);
  coverY = coverOf(spanY / <f32>parts);
}

/** At least a pixel, and a whole number of distances between parts, so that they add up evenly. */
function coverOf(distance: f32): f32 {
  const held = max<f32>(distance, 1e-3);
  return held >= 1 ? min<f32>(held, 2) : held * ceil(<f32>1 / held);
}

/** Adds light, spread evenly over a rectangle about a place, which stands in the first two lanes. */
function addPart(plan: Plan, place: v128, light: v128): void {
  const left = f32x4.extract_lane(place, 0) - 0.5 * coverX;
  const top = f32x4.extract_lane(place, 1) - 0.5 * coverY;
  const column = <i32>floor(left);
  const row = <i32>floor(top);
  if (<u32>column >= <u32>(plan.width - 2) || <u32>row >= <u32>(plan.height - 2)) return;
  const firstX = min<f32>(coverX, <f32>(column + 1) - left);
  const secondX = min<f32>(1, coverX - firstX);
  const thirdX = coverX - firstX - secondX;
  const firstY = min<f32>(coverY, <f32>(row + 1) - top);
  const secondY = min<f32>(1, coverY - firstY);
  const thirdY = coverY - firstY - secondY;
  const even = f32x4.mul(light, f32x4.splat(<f32>1 / (coverX * coverY)));
  const a = f32x4.mul(even, f32x4.splat(firstX));
  const b = f32x4.mul(even, f32x4.splat(secondX));
  const c = f32x4.mul(even, f32x4.splat(thirdX));
  const pitch = <usize>plan.width * 16;
  const at = plan.pixels + <usize>row * pitch + <usize>column * 16;
  addThree(at, a, b, c, firstY);
  addThree(at + pitch, a, b, c, secondY);
  if (thirdY > 0) addThree(at + 2 * pitch, a, b, c, thirdY);
}

function addThree(at: usize, a: v128, b: v128, c: v128, share: f32): void {
  const times = f32x4.splat(share);
  v128.store(at, f32x4.add(v128.load(at), f32x4.mul(a, times)));
  v128.store(at, f32x4.add(v128.load(at, 16), f32x4.mul(b, times)), 16);
  v128.store(at, f32x4.add(v128.load(at, 32), f32x4.mul(c, times)), 32);
}

/** Blurs the pixels by a Gaussian, rows and then columns; `scratch` holds its weights and a copy of the pixels. */
function blurPixels(plan: Plan, scratch: usize): void {
  const reach = <i32>ceil(2.8 * plan.blur);
  let sum: f32 = 0;
  for (let k = -reach; k <= reach; k++) {
    const weight = <f32>Math.exp((-0.5 * <f64>(k * k)) / (<f64>plan.blur * <f64>plan.blur));
    store<f32>(scratch + 4 * <usize>(k + reach), weight);
    sum += weight;
  }
  for (let k = 0; k <= 2 * reach; k++)
    store<f32>(scratch + 4 * <usize>k, load<f32>(scratch + 4 * <usize>k) / sum);
  const copy = scratch + ((4 * <usize>(2 * reach + 1) + 63) & ~(<usize>63));
  const rowBytes = <usize>plan.width * 16;
  for (let y = 0; y < plan.height; y++)
    blurRow(plan.pixels + <usize>y * rowBytes, copy + <usize>y * rowBytes, plan.width, reach, scratch);
  for (let y = 0; y < plan.height; y++) {
    const low = max(-reach, -y);
    const high = min(reach, plan.height - 1 - y);
    const out = plan.pixels + <usize>y * rowBytes;
    memory.fill(out, 0, rowBytes);
    // Row by row, as memory lies.
    for (let k = low; k <= high; k++)
      addRow(copy + <usize>(y + k) * rowBytes, out, plan.width, load<f32>(scratch + 4 * <usize>(k + reach)));
  }
}

function addRow(from: usize, to: usize, count: i32, weight: f32): void {
  const times = f32x4.splat(weight);
  const end = to + <usize>count * 16;
  while (to < end) {
    v128.store(to, f32x4.add(v128.load(to), f32x4.mul(v128.load(from), times)));
    to += 16;
    from += 16;
  }
}

function blurRow(from: usize, to: usize, count: i32, reach: i32, weights: usize): void {
  for (let i = 0; i < count; i++) {
    let sum = f32x4.splat(0);
    const low = max(-reach, -i);
    const high = min(reach, count - 1 - i);
    let at = from + <usize>(i + low) * 16;
    let weight = weights + 4 * <usize>(low + reach);
    for (let k = low; k <= high; k++) {
      sum = f32x4.add(sum, f32x4.mul(v128.load(at), v128.load32_splat(weight)));
      at += 16;
      weight += 4;
    }
    v128.store(to + <usize>i * 16, sum);
  }
}
