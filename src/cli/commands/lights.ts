import type { Command } from 'commander';
import { evaluate } from '../../core/bench/evaluate';
import { luminance } from '../../core/color/primaries';
import { brightRegions, type BrightRegion } from '../../core/image/bright-regions';
import type { TaskRunner } from '../../core/kernels/runtime/parallel';
import type { Plate } from '../../core/light/plate';
import { FARTHEST } from '../../core/light/depth';
import { hasDepth, readDepth } from '../../core/light/distances';
import type { NamedElement } from '../elements';
import { integer, positive, withElements, withLook, withPlate } from '../options';
import { openBench } from '../bench';
import { withThreads } from '../threads';

interface LightsOptions {
  plate: string[];
  element: NamedElement[];
  look?: string;
  set: string[];
  threshold: number;
  count: number;
  json?: boolean;
}

/** A light as it is told: its place as shares of the frame from the top left corner. */
interface Light {
  x: number;
  y: number;
  flux: [number, number, number];
  luminance: number;
  peak: number;
  pixels: number;
  /** Of a disc as large, pixels. */
  radius: number;
  /** Metres; null where it is far away or there is no depth. */
  distance: number | null;
}

/** Tells the lights of a picture, as it is prepared: regions brighter than a threshold, the strongest first. */
async function lights(file: string | undefined, options: LightsOptions, runner: TaskRunner): Promise<void> {
  const { threshold, count } = options;
  const { look, bench } = await openBench(file, options, runner);
  const { plate } = bench;
  const { light } = await evaluate(look, bench, { scale: 1, behind: 'plate' });
  const distances = hasDepth(plate, look) ? readDepth(plate, look) : undefined;
  const found = brightRegions(light.total, light, threshold);
  const told = found.slice(0, count).map((region) => describe(region, plate, distances));
  if (options.json)
    process.stdout.write(`${JSON.stringify({ count: found.length, lights: told }, null, 2)}\n`);
  else process.stdout.write(`${inWords(told, found.length, threshold)}\n`);
}

function describe(region: BrightRegion, { frame }: Plate, distances: Float32Array | undefined): Light {
  const distance = distances?.[region.brightest] ?? FARTHEST;
  const { flux, peak, pixels } = region;
  return {
    x: (region.x - frame.x) / frame.width,
    y: (region.y - frame.y) / frame.height,
    flux,
    luminance: luminance(...flux),
    peak,
    pixels,
    radius: Math.sqrt(pixels / Math.PI),
    distance: distance < FARTHEST ? distance : null,
  };
}

function inWords(told: readonly Light[], count: number, threshold: number): string {
  if (count === 0) return `nothing is brighter than ${threshold}`;
  const cell = (text: string, width: number): string => text.padStart(width);
  return [
    `${count} lights are brighter than ${threshold}${told.length < count ? `; the ${told.length} strongest` : ''}`,
    '       x       y       light     peak   pixels    colour (r g b)          distance',
    ...told.map(({ x, y, flux, luminance: light, peak, pixels, distance }) => {
      const colour = flux.map((value) => (value / (light || 1)).toFixed(2)).join(' ');
      return [
        cell(`${(x * 100).toFixed(2)} %`, 8),
        cell(`${(y * 100).toFixed(2)} %`, 8),
        cell(light.toPrecision(5), 11),
        cell(peak.toPrecision(4), 8),
        cell(String(pixels), 8),
        `    ${colour.padEnd(20)}`,
        distance === null ? 'far away' : `${distance.toPrecision(4)} m`,
      ].join('');
    }),
  ].join('\n');
}

const MOST = 10_000;

export function addLights(program: Command): void {
  withLook(withElements(withPlate(program.command('lights'))))
    .description('the lights of a picture: where, how strong, of what colour and size, how far')
    .option('--threshold <value>', 'scene-linear luminance that they exceed', positive, 12)
    .option('--count <N>', 'tell so many, the strongest first', integer(1, MOST), 20)
    .option('--json', 'as JSON')
    .action((file: string | undefined, options: LightsOptions) =>
      withThreads((runner) => lights(file, options, runner)),
    );
}
