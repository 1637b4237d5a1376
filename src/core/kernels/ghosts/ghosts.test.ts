import { serialRunner } from '../../jobs';
import type { Triple } from '../../color/primaries';
import { LENS_DESIGNS } from '../../optics/lens/designs';
import { stopLens, type LensDesign } from '../../optics/lens/design';
import { affineRays, exactRays, lightDirection, type MountedLens } from '../../optics/lens/ghost-rays';
import { rankGhosts } from '../../optics/lens/ghost-rank';
import { type GhostPair } from '../../optics/lens/paraxial';
import type { GhostBounds, GhostDrawing, GhostRays } from '.';
import { wasmGhosts } from './wasm';

const kernel = wasmGhosts(serialRunner);
const NODES = 25;
const COLOURS = [587.5618, 450, 650] as const;
const D = 587.5618;

/** A round stop that lets all light through. */
const SIZE = 128;
const round = {
  size: SIZE,
  plane: Float32Array.from({ length: SIZE * SIZE }, (_, i) => {
    const [x, y] = [((i % SIZE) + 0.5) / 64 - 1, (Math.floor(i / SIZE) + 0.5) / 64 - 1];
    return Math.min(1, Math.max(0, 0.5 + (1 - Math.hypot(x, y)) * 64));
  }),
};

function mount(name: string, fStop: number): MountedLens {
  return {
    design: stopLens(LENS_DESIGNS.get(name)!, fStop),
    coating: { coating: 'bare', coatingWavelength: 550 },
  };
}

type Vector = [number, number, number];
const dot = (a: Vector, b: Vector): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const along = (a: Vector, b: Vector, t: number): Vector => [
  a[0] + t * b[0],
  a[1] + t * b[1],
  a[2] + t * b[2],
];

/**
 * One ray through spheres by the quadratic formula and Snell's law in vectors, with Fresnel's two polarisations from sines and
 * tangents of the angles (Born & Wolf 1959, 1.5.2): written apart from what it checks.
 */
function followRay(
  { surfaces }: LensDesign,
  origin: Vector,
  direction: Vector,
  pair?: GhostPair,
): { x: number; y: number; weight: number } | undefined {
  const vertices: number[] = [];
  surfaces.reduce((z, { thickness }, k) => {
    vertices[k] = z;
    return z + thickness;
  }, 0);
  const index = (k: number): number => (k < 0 ? 1 : surfaces[k]!.nd);
  let [place, way, weight, forward] = [origin, direction, 1, true];
  let [k, turns] = [0, 0];
  while (k >= 0 && k < surfaces.length) {
    const { radius, semiAperture } = surfaces[k]!;
    let normal: Vector = [0, 0, -1];
    if (radius === null) place = along(place, way, (vertices[k]! - place[2]) / way[2]);
    else {
      const centre: Vector = [0, 0, vertices[k]! + radius];
      const from = along(place, centre, -1);
      const b = dot(from, way);
      const c = dot(from, from) - radius * radius;
      if (b * b < c) return undefined;
      const roots = [-b - Math.sqrt(b * b - c), -b + Math.sqrt(b * b - c)];
      const hits = roots.map((t) => along(place, way, t));
      place = hits.sort((p, q) => Math.abs(p[2] - vertices[k]!) - Math.abs(q[2] - vertices[k]!))[0]!;
      normal = along(place, centre, -1).map((value) => value / radius) as Vector;
    }
    if (Math.hypot(place[0], place[1]) > semiAperture) return undefined;
    if (dot(normal, way) > 0) normal = normal.map((value) => -value) as Vector;
    const [from, to] = forward ? [index(k - 1), index(k)] : [index(k), index(k - 1)];
    const [incident, sine] = [
      Math.acos(-dot(normal, way)),
      Math.sin(Math.acos(-dot(normal, way))) * (from / to),
    ];
    const isTurn = pair !== undefined && turns < 2 && k === (turns === 0 ? pair.second : pair.first);
    if (sine >= 1) return undefined;
    const refracted = Math.asin(sine);
    const [minus, plus] = [incident - refracted, incident + refracted];
    const reflected =
      from === to
        ? 0
        : plus < 1e-9
          ? ((from - to) / (from + to)) ** 2
          : ((Math.sin(minus) / Math.sin(plus)) ** 2 + (Math.tan(minus) / Math.tan(plus)) ** 2) / 2;
    weight *= isTurn ? reflected : 1 - reflected;
    if (isTurn) {
      way = along(way, normal, -2 * dot(normal, way));
      forward = !forward;
      turns++;
    } else {
      const ratio = from / to;
      way = along(
        way.map((value) => value * ratio) as Vector,
        normal,
        ratio * Math.cos(incident) - Math.cos(refracted),
      );
    }
    k += forward ? 1 : -1;
  }
  const sensor = vertices.at(-1)! + surfaces.at(-1)!.thickness;
  const [x, y] = along(place, way, (sensor - place[2]) / way[2]);
  return { x: -x, y: -y, weight };
}

/** Halton's points (1964), which cover a square evenly. */
function halton(index: number, base: number): number {
  let [result, share] = [0, 1 / base];
  for (let i = index; i > 0; i = Math.floor(i / base), share /= base) result += share * (i % base);
  return result;
}

/** Flux, middle and spread of a path by many rays over the front. */
function monteCarlo(design: LensDesign, direction: Vector, pair: GhostPair | undefined, rays: number) {
  const half = 1.3 * design.surfaces[0]!.semiAperture;
  let [flux, sumX, sumY, squares] = [0, 0, 0, 0];
  const [xs, ys]: [number[], number[]] = [[], []];
  for (let i = 1; i <= rays; i++) {
    const start: Vector = [half * (2 * halton(i, 2) - 1), half * (2 * halton(i, 3) - 1), 0];
    const ray = followRay(design, start, direction, pair);
    if (!ray) continue;
    flux += ray.weight;
    sumX += ray.weight * ray.x;
    sumY += ray.weight * ray.y;
    squares += ray.weight * (ray.x ** 2 + ray.y ** 2);
    xs.push(ray.x);
    ys.push(ray.y);
  }
  const [x, y] = [sumX / flux, sumY / flux];
  const spread = Math.sqrt(Math.max(0, squares / flux - x * x - y * y));
  const extent = Math.max(Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys));
  return { flux: (flux * (2 * half) ** 2) / rays, x, y, spread, extent, count: xs.length };
}

async function boundsOf(rays: readonly GhostRays[]): Promise<(GhostBounds | undefined)[]> {
  return kernel.survey(rays, COLOURS, NODES);
}

/** One ghost drawn white at the d line, without blur, and what its pixels come to. */
async function drawn(rays: GhostRays, bounds: GhostBounds, side = 240) {
  const size = Math.max(bounds.right - bounds.left, bounds.bottom - bounds.top);
  const pitch = side / size;
  const raster = {
    width: side + 40,
    height: side + 40,
    pitch,
    axisX: 20 - bounds.left * pitch,
    axisY: 20 - bounds.top * pitch,
  };
  const drawing: GhostDrawing = { rays, bounds, blur: 1e-4, colours: [{ wavelength: D, weight: [1, 1, 1] }] };
  const [plane] = await kernel.draw([drawing], raster, round, NODES);
  let [flux, sumX, sumY, squares] = [0, 0, 0, 0];
  plane.forEach((value, i) => {
    const x = ((i % raster.width) + 0.5 - raster.axisX) / pitch;
    const y = (Math.floor(i / raster.width) + 0.5 - raster.axisY) / pitch;
    flux += value;
    sumX += value * x;
    sumY += value * y;
    squares += value * (x * x + y * y);
  });
  const [x, y] = [sumX / flux, sumY / flux];
  return { flux, x, y, spread: Math.sqrt(Math.max(0, squares / flux - x * x - y * y)), plane, raster };
}

describe('ghosts by real rays', () => {
  it.each([
    ['double-gauss-f2', 8, 0.1],
    ['triplet-f5', 8, 0.08],
  ])('of the %s at f/%f come out as many rays by themselves say', async (name, fStop, tangent) => {
    const lens = mount(name, fStop);
    const direction = lightDirection(0.8 * tangent, -0.6 * tangent);
    const brightest = (await rankGhosts(lens, 21.6, kernel)).slice(0, 10);
    const rays = brightest.map((ghost) => exactRays(lens, direction, ghost));
    const bounds = await boundsOf(rays);
    let compared = 0;
    for (const [k, ghost] of brightest.entries()) {
      const truth = monteCarlo(lens.design, direction, ghost, 30_000);
      if (truth.count < 300) continue;
      const made = await drawn(rays[k]!, bounds[k]!);
      const noise = 3 / Math.sqrt(truth.count);
      expect(Math.abs(made.flux / truth.flux - 1)).toBeLessThan(0.02 + noise);
      const scale = truth.spread + 0.01;
      expect(Math.hypot(made.x - truth.x, made.y - truth.y) / scale).toBeLessThan(0.03 + noise);
      expect(Math.abs(made.spread / truth.spread - 1)).toBeLessThan(0.04 + noise);
      compared++;
    }
    expect(compared).toBeGreaterThanOrEqual(8);
  });

  it('have the flux that is measured without drawing, and so has the light that comes straight through', async () => {
    const lens = mount('double-gauss-f2', 4);
    const direction = lightDirection(0.05, 0.02);
    const direct = exactRays(lens, direction);
    const [bounds] = await boundsOf([direct]);
    const [[flux]] = (await kernel.measure([{ rays: direct, bounds: bounds! }], [D], round, NODES)) as [
      [number],
    ];
    const truth = monteCarlo(lens.design, direction, undefined, 40_000);
    expect(flux / truth.flux).toBeCloseTo(1, 1.7);
    // The light's own image lies at the focal length times the tangent (pinhole), to a few hundredths of a millimetre.
    expect(truth.x).toBeCloseTo(50 * 0.05, 1);
    expect((bounds!.left + bounds!.right) / 2).toBeCloseTo(truth.x, 1);
  });

  it('are mirrored as the light is', async () => {
    const lens = mount('double-gauss-f2', 5.6);
    const pair = { first: 8, second: 10 };
    const [left, right] = await boundsOf(
      [lightDirection(-0.1, 0.05), lightDirection(0.1, 0.05)].map((direction) =>
        exactRays(lens, direction, pair),
      ),
    );
    expect(left!.left).toBeCloseTo(-right!.right, 2);
    expect(left!.right).toBeCloseTo(-right!.left, 2);
    expect(left!.top).toBeCloseTo(right!.top, 2);
  });

  it('and by rays near the axis agree for a small angle and a small stop', async () => {
    const lens = mount('double-gauss-f2', 16);
    const direction = lightDirection(0.02, 0);
    const errors: { place: number; size: number }[] = [];
    for (const pair of (await rankGhosts(lens, 21.6, kernel)).slice(0, 12)) {
      const [exact, affine] = await boundsOf([
        exactRays(lens, direction, pair),
        affineRays(lens, direction, pair),
      ]);
      const size = exact ? exact.right - exact.left : 0;
      // Those near a focus are spread by aberrations instead.
      if (!exact || !affine || size < 1) continue;
      errors.push({
        place: Math.abs(affine.left + affine.right - exact.left - exact.right) / 2,
        size: Math.abs((affine.right - affine.left) / size - 1),
      });
    }
    const median = (values: number[]): number => values.sort((p, q) => p - q)[values.length >> 1]!;
    expect(errors.length).toBeGreaterThan(7);
    // Of the double Gauss at f/8: 0.06 % of half the diagonal at 2 degrees, 10 % in size (measured for the design).
    expect(median(errors.map(({ place }) => place))).toBeLessThan(0.0012 * 21.6);
    expect(median(errors.map(({ size }) => size))).toBeLessThan(0.05);
  });

  it('show no cells: over a large even ghost brightness changes smoothly', async () => {
    const lens = mount('double-gauss-f2', 8);
    const pair = { first: 0, second: 3 };
    const rays = exactRays(lens, lightDirection(0, 0), pair);
    const [bounds] = await boundsOf([rays]);
    const pitch = 20;
    const raster = { width: 300, height: 300, pitch, axisX: 150, axisY: 150 };
    const drawing = {
      rays,
      bounds: bounds!,
      blur: 0.1,
      colours: [{ wavelength: D, weight: [1, 1, 1] as Triple }],
    };
    const [plane] = await kernel.draw([drawing], raster, round, NODES);
    const row = plane.subarray(150 * 300 + 90, 150 * 300 + 210);
    for (let i = 1; i < row.length - 1; i++) {
      const bend = row[i - 1]! - 2 * row[i]! + row[i + 1]!;
      expect(Math.abs(bend) / row[i]!).toBeLessThan(2e-3);
    }
  });

  it('keep their light whatever the blur and the pixels', async () => {
    const lens = mount('triplet-f5', 8);
    const ghost = (await rankGhosts(lens, 21.6, kernel))[1]!;
    const rays = exactRays(lens, lightDirection(0.03, 0.02), ghost);
    const [bounds] = await boundsOf([rays]);
    const sums: number[] = [];
    for (const blur of [0.001, 0.05, 0.3])
      for (const pitch of [8, 31]) {
        const raster = { width: 40 * pitch, height: 40 * pitch, pitch, axisX: 20 * pitch, axisY: 20 * pitch };
        const drawing = {
          rays,
          bounds: bounds!,
          blur,
          colours: [{ wavelength: D, weight: [1, 1, 1] as Triple }],
        };
        const [plane] = await kernel.draw([drawing], raster, round, NODES);
        sums.push(plane.reduce((sum, value) => sum + value, 0));
      }
    for (const sum of sums) expect(sum / sums[0]!).toBeCloseTo(1, 2);
  });

  it('are finite and nowhere below zero, however wide the stop and the angle', async () => {
    for (const name of LENS_DESIGNS.keys())
      for (const [fStop, tangent] of [
        [0.8, 0.35],
        [2, 0.6],
        [22, 0.2],
      ] as const) {
        const lens = mount(name, fStop);
        const direction = lightDirection(0.8 * tangent, 0.6 * tangent);
        const rays = (await rankGhosts(lens, 21.6, kernel))
          .slice(0, 12)
          .map((ghost) => exactRays(lens, direction, ghost));
        const bounds = await boundsOf(rays);
        const drawings = rays.flatMap((one, k) =>
          bounds[k]
            ? [
                {
                  rays: one,
                  bounds: bounds[k],
                  blur: 0.05,
                  colours: [{ wavelength: D, weight: [1, 1, -0.2] as Triple }],
                },
              ]
            : [],
        );
        const raster = { width: 120, height: 80, pitch: 3, axisX: 60, axisY: 40 };
        const rgb = await kernel.draw(drawings, raster, round, NODES);
        for (const plane of rgb)
          expect(plane.every((value) => Number.isFinite(value) && value >= 0)).toBe(true);
        const fluxes = await kernel.measure(drawings, [D], round, NODES);
        expect(fluxes.flat().every((value) => Number.isFinite(value) && value >= 0)).toBe(true);
      }
  });
});
