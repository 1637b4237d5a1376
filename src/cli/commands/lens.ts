import type { Command } from 'commander';
import { Option } from 'commander';
import { SettingError } from '../../core/errors';
import { COATINGS, type Coating } from '../../core/optics/coating';
import {
  lensDocument,
  parseLensDesign,
  scaleLens,
  stopLens,
  type LensDesign,
} from '../../core/optics/lens/design';
import { LENS_DESIGNS } from '../../core/optics/lens/designs';
import { listGhosts } from '../../core/optics/lens/ghosts';
import { lensFacts } from '../../core/optics/lens/paraxial';
import { readJson, writeBytes } from '../files';
import { positive } from '../options';

interface LensOptions {
  lens?: string;
  focalLength?: number;
  fStop?: number;
  coating: Coating;
  coatingWavelength: number;
  write?: string;
  json?: boolean;
}

function readDesign(name: string | undefined, file: string | undefined): LensDesign {
  if (file !== undefined) return parseLensDesign(readJson(file), file);
  const design = name === undefined ? undefined : LENS_DESIGNS.get(name);
  if (design) return design;
  throw new SettingError(name === undefined ? 'no lens design is named' : `there is no lens design ${name}`, {
    todo: `It may be ${[...LENS_DESIGNS.keys()].join(', ')}, or --lens FILE.json`,
  });
}

/** Tells what a lens design does: its focal length, its surfaces, and its ghosts. */
function tellLens(name: string | undefined, options: LensOptions): void {
  const listed = readDesign(name, options.lens);
  const design = stopLens(
    scaleLens(listed, options.focalLength ?? listed.focalLength),
    options.fStop ?? listed.fNumber,
  );
  if (options.write !== undefined)
    writeBytes(options.write, `${JSON.stringify(lensDocument(design), null, 2)}\n`);
  const { coating, coatingWavelength } = options;
  const report = {
    id: design.id,
    source: design.source,
    scale: design.focalLength / listed.focalLength,
    ...lensFacts(design),
    coating,
    coatingWavelength,
    surfaces: lensDocument(design).surfaces,
    ghosts: listGhosts(design, { coating, coatingWavelength }),
  };
  process.stdout.write(`${options.json ? JSON.stringify(report, null, 2) : inWords(report)}\n`);
}

type Report = ReturnType<typeof lensFacts> & {
  id: string;
  scale: number;
  coating: Coating;
  surfaces: ReturnType<typeof lensDocument>['surfaces'];
  ghosts: ReturnType<typeof listGhosts>;
};

function inWords(report: Report): string {
  const figure = (value: number, digits = 2): string => value.toFixed(digits);
  const cell = (text: string, width: number): string => text.padStart(width);
  const scaled =
    Math.abs(report.scale - 1) > 1e-9 ? `, scaled by ${Number(report.scale.toPrecision(4))}` : '';
  const total = report.ghosts.reduce((sum, { flux }) => sum + flux, 0);
  return [
    `${report.id}${scaled}: ${figure(report.focalLength)} mm f/${Number(report.fNumber.toPrecision(3))}`,
    `back focus ${figure(report.backFocus)} mm; ${figure(report.length)} mm from first to last surface`,
    `entrance pupil ${figure(report.entrancePupilDiameter)} mm wide, ${figure(report.entrancePupilPlace)} mm behind the first surface`,
    '',
    '   n     radius  thickness      nd      vd  semi-aperture',
    ...report.surfaces.map(
      ({ index, radius, thickness, nd, vd, semiAperture, stop }) =>
        `${cell(String(index), 4)} ${cell(radius === null ? 'flat' : figure(radius, 3), 10)} ${cell(figure(thickness, 3), 10)} ${cell(figure(nd, 4), 7)} ${cell(vd === null ? '' : figure(vd, 1), 7)} ${cell(figure(semiAperture, 3), 14)}${stop ? '  stop' : ''}`,
    ),
    '',
    `${report.ghosts.length} ghosts, ${report.coating}: ${(total * 100).toPrecision(3)} % of the light`,
    '  ghost  radius mm  mm a degree  share of light    per mm2',
    ...report.ghosts.map(
      ({ name, radius, perDegree, flux, irradiance }) =>
        `${cell(name, 7)} ${cell(figure(radius), 10)} ${cell(figure(perDegree, 3), 12)} ${cell(flux.toExponential(2), 15)} ${cell(irradiance.toExponential(2), 10)}`,
    ),
  ].join('\n');
}

export function addLens(program: Command): void {
  program
    .command('lens')
    .description('what a lens design does: focal length, surfaces, ghosts')
    .argument('[DESIGN]', `one of ${[...LENS_DESIGNS.keys()].join(', ')}`)
    .option('--lens <FILE.json>', 'a design from a file instead')
    .option('--focal-length <mm>', 'scale it to this focal length', positive)
    .option('--f-stop <N>', 'set its stop to this f-number', positive)
    .addOption(
      new Option('--coating <coating>', 'what lies on its surfaces').choices([...COATINGS]).default('single'),
    )
    .option('--coating-wavelength <nm>', 'that a single layer is a quarter of', positive, 550)
    .option('--write <FILE.json>', 'write the design as it is then')
    .option('--json', 'as JSON')
    .action(tellLens);
}
