import { serialRunner } from '../../jobs';
import { wasmGhosts } from '../../kernels/ghosts/wasm';
import { LENS_DESIGNS } from './designs';
import { stopLens } from './design';
import { edgeBlur, rankGhosts } from './ghost-rank';
import { ghostPairs, paraxialPath } from './paraxial';
import { lensSection } from './section';
import { vertexPlaces } from './trace';

const lens = (name: string, fStop: number) => stopLens(LENS_DESIGNS.get(name)!, fStop);
const kernel = wasmGhosts(serialRunner);
const radians = (degrees: number): number => (degrees * Math.PI) / 180;

describe('the drawing of a lens', () => {
  const design = lens('double-gauss-f2', 4);

  it('has every glass with its surfaces, and the stop with its edges', () => {
    const { glasses, stop } = lensSection(design, { angle: 0, half: 21.6 });
    expect(glasses.map(({ nd }) => nd)).toEqual(
      design.surfaces.filter(({ nd }) => nd > 1.05).map(({ nd }) => nd),
    );
    const places = vertexPlaces(design);
    // Each outline passes both of its vertices, on the axis.
    const first = glasses[0]!.outline.filter(([, y]) => Math.abs(y) < 1e-9).map(([z]) => z);
    expect(first[0]).toBeCloseTo(places[0]!, 9);
    expect(first[1]).toBeCloseTo(places[1]!, 9);
    const index = design.surfaces.findIndex((surface) => surface.stop);
    expect(stop.edge).toBe(design.surfaces[index]!.semiAperture);
    expect(stop.z).toBe(places[index]);
    expect(stop.outer).toBeGreaterThan(stop.edge);
  });

  it('brings the rays of a far light together at the focal length times the tangent, below the axis', () => {
    for (const degrees of [0, 5, 10]) {
      const { rays, sensor } = lensSection(design, { angle: radians(degrees), half: 21.6 });
      expect(rays.length).toBe(5);
      for (const path of rays) {
        const [z, y] = path.at(-1)!;
        expect(z).toBeCloseTo(sensor.z, 9);
        // Light from above; a fast lens has some blur, and a little distortion.
        expect(Math.abs(y + 50 * Math.tan(radians(degrees)))).toBeLessThan(0.35);
      }
    }
  });

  it('lets rays of a near light go apart before the lens', () => {
    const { rays } = lensSection(design, { angle: 0, distance: 500, half: 21.6 });
    const slopes = rays.map((path) => (path[1]![1] - path[0]![1]) / (path[1]![0] - path[0]![0]));
    rays.forEach((path, k) => expect(slopes[k]).toBeCloseTo(path[1]![1] / 500, 6));
    expect(new Set(slopes.map((slope) => slope.toFixed(6))).size).toBe(5);
  });

  it('follows a ghost to its two surfaces', () => {
    const places = vertexPlaces(design);
    for (const pair of [
      { first: 8, second: 10 },
      { first: 0, second: 1 },
      { first: 2, second: 6 },
    ]) {
      const { ghost } = lensSection(design, { angle: radians(2), ghost: pair, half: 21.6 });
      expect(ghost!.rays.length).toBeGreaterThan(0);
      ghost!.turns.forEach(([z, y], k) => {
        const surface = k % 2 === 0 ? pair.second : pair.first;
        const { radius } = design.surfaces[surface]!;
        // The turn lies on the sphere of its surface.
        if (radius === null) expect(z).toBeCloseTo(places[surface]!, 6);
        else expect(Math.hypot(z - places[surface]! - radius, y)).toBeCloseTo(Math.abs(radius), 6);
      });
    }
  });
});

describe('the rank of ghosts', () => {
  it('has every pair once, the brightest first, and is the same for the same lens', async () => {
    const mounted = {
      design: lens('retrofocus-f2.8', 5.6),
      coating: { coating: 'single' as const, coatingWavelength: 550 },
    };
    const ranked = await rankGhosts(mounted, 21.6, kernel);
    expect(ranked).toHaveLength(ghostPairs(mounted.design).length);
    expect(new Set(ranked.map(({ name }) => name)).size).toBe(ranked.length);
    for (let k = 1; k < ranked.length; k++)
      expect(ranked[k]!.brightness).toBeLessThanOrEqual(ranked[k - 1]!.brightness);
    expect((await rankGhosts(mounted, 21.6, kernel)).map(({ name }) => name)).toEqual(
      ranked.map(({ name }) => name),
    );
  });

  it('follows the coating: bare surfaces are brighter by the square of their reflectances', async () => {
    const of = async (coating: 'bare' | 'broad'): Promise<Map<string, number>> => {
      const mounted = { design: lens('triplet-f5', 8), coating: { coating, coatingWavelength: 550 } };
      const ranked = await rankGhosts(mounted, 21.6, kernel);
      return new Map(ranked.map(({ name, brightness }) => [name, brightness]));
    };
    const [bare, broad] = [await of('bare'), await of('broad')];
    // Air against glass of n = 1.62: 5.6 % bare and 0.3 % coated, about 350 times as much for two.
    const ratio = bare.get('0-1')! / broad.get('0-1')!;
    expect(ratio).toBeGreaterThan(200);
    expect(ratio).toBeLessThan(500);
  });

  it('blurs edges by the Fresnel scale: four times as far from the focus, twice as wide', () => {
    const path = paraxialPath(lens('double-gauss-f2', 8), undefined, { first: 8, second: 10 });
    const distance = Math.abs(path.sensor.a / path.slope.a);
    // From a tenth to nine tenths of the light, as the straight edge has it (Born & Wolf 1959, 8.7).
    expect(2.56 * edgeBlur(path)).toBeCloseTo(0.89 * Math.sqrt(0.55e-3 * distance), 9);
    const farther = { ...path, sensor: { ...path.sensor, a: 4 * path.sensor.a } };
    expect(edgeBlur(farther) / edgeBlur(path)).toBeCloseTo(2, 9);
  });
});
