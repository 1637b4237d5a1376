import type { Command } from 'commander';
import { integer, positive, shotFiles, withLook, withShot } from '../options';
import { SettingError } from '../../core/errors';
import {
  acceptableBlur,
  airyRadius,
  blurDiameter,
  canFocus,
  fieldOfView,
  fStopForBlur,
  hyperfocal,
  pupilDiameter,
  sensorPart,
  sharpLimits,
} from '../../core/optics/camera';
import { openSource } from '../source';

interface OpticsOptions {
  look?: string;
  set: string[];
  at?: string;
  width: number;
  height?: number;
  disc?: number;
  json?: boolean;
}

/** Tells what the camera of a look does: sharp limits, angles, and how large a point is blurred at given distances. */
async function optics(shot: string | undefined, options: OpticsOptions): Promise<void> {
  const { look } = await openSource({ files: shotFiles(shot), look: options.look, set: options.set });
  const { camera, focus } = look;
  const { near, far } = sharpLimits(camera);
  const distances = (options.at ?? '1,2,5,10,inf').split(',').map(readDistance);
  const pixels = options.width / camera.sensorWidth;
  const { sensorWidth, sensorHeight } = camera;
  const part = options.height
    ? sensorPart(camera, options.width / options.height)
    : { width: sensorWidth, height: sensorHeight };
  const focusable = canFocus(camera);
  const report = {
    camera,
    focusable,
    breathing: focus.breathing,
    hyperfocal: hyperfocal(camera),
    near: focusable ? near : null,
    far: focusable && Number.isFinite(far) ? far : null,
    acceptableBlur: acceptableBlur(camera),
    sensorPart: part,
    fieldOfView: fieldOfView(camera, part),
    pupilDiameter: pupilDiameter(camera),
    airyRadius: airyRadius(camera),
    width: options.width,
    blur: (focusable ? distances : []).map((distance) => {
      const millimetres = blurDiameter(camera, distance, focus.breathing);
      return {
        distance: Number.isFinite(distance) ? distance : null,
        millimetres,
        pixels: millimetres * pixels,
        ...(options.disc !== undefined && {
          fStop: fStopForBlur(camera, distance, focus.breathing, options.disc / pixels) ?? null,
        }),
      };
    }),
  };
  process.stdout.write(`${options.json ? JSON.stringify(report, null, 2) : inWords(report)}\n`);
}

function readDistance(text: string): number {
  const value = /^inf(inity)?$/i.test(text.trim()) ? Infinity : Number(text);
  if (value > 0) return value;
  throw new SettingError(`"${text}" is no distance in metres`, {
    where: '--at',
    todo: 'Give numbers over 0, or inf, parted by commas',
  });
}

interface Report {
  camera: {
    focalLength: number;
    sensorWidth: number;
    sensorHeight: number;
    fStop: number;
    focusDistance: number;
  };
  focusable: boolean;
  hyperfocal: number;
  near: number | null;
  far: number | null;
  sensorPart: { width: number; height: number };
  fieldOfView: { horizontal: number; vertical: number; diagonal: number };
  pupilDiameter: number;
  airyRadius: number;
  width: number;
  blur: { distance: number | null; millimetres: number; pixels: number; fStop?: number | null }[];
}

/** What is told of the f-stop that a wished disc asks for. */
function wished(fStop: number | null | undefined): string {
  if (fStop === undefined) return '';
  return fStop === null
    ? '  in the focus: no f-stop blurs it'
    : `  as wished at f/${Number(fStop.toPrecision(3))}`;
}

function inWords(report: Report): string {
  const { camera, fieldOfView: view, sensorPart: part } = report;
  const m = (value: number | null): string =>
    value === null ? 'infinity' : `${Number(value.toPrecision(5))} m`;
  const lines = [
    `${camera.focalLength} mm f/${camera.fStop} on ${camera.sensorWidth} x ${camera.sensorHeight} mm, focused at ${m(camera.focusDistance)}`,
    `${report.focusable ? `sharp from ${m(report.near)} to ${m(report.far)}` : 'sharp nowhere: a lens forms no image of what lies within its focal length'}; hyperfocal distance ${m(report.hyperfocal)}`,
    `view ${view.horizontal.toFixed(2)} x ${view.vertical.toFixed(2)} degrees, ${view.diagonal.toFixed(2)} across the diagonal, of ${part.width.toFixed(2)} x ${part.height.toFixed(2)} mm of the sensor`,
    `pupil ${report.pupilDiameter.toFixed(2)} mm; first dark ring of diffraction ${report.airyRadius.toFixed(2)} um at 550 nm`,
    '',
    `blur disc at ${report.width} pixels of width (negative before the focus):`,
    ...report.blur.map(
      ({ distance, millimetres, pixels, fStop }) =>
        `  ${m(distance).padStart(12)}  ${millimetres.toFixed(4)} mm  ${pixels.toFixed(2)} px${wished(fStop)}`,
    ),
  ];
  if (!report.focusable) lines.splice(-1, 1, `no blur discs: focus beyond ${m(camera.focalLength / 1000)}`);
  return lines.join('\n');
}

export function addOptics(program: Command): void {
  withLook(withShot(program.command('optics')))
    .description('what the camera of a look does: sharp limits, angles of view, blur discs')
    .option(
      '--at <distances>',
      'distances in metres, parted by commas; inf is allowed (default: 1,2,5,10,inf)',
    )
    .option('--disc <pixels>', 'tell at which f-stop a point there is blurred to such a disc', positive)
    .option('--width <pixels>', 'width of the picture, for discs in pixels', integer(1, 65536), 1920)
    .option(
      '--height <pixels>',
      "height of the picture, if its aspect is not the sensor's",
      integer(1, 65536),
    )
    .option('--json', 'as JSON')
    .action((shot: string | undefined, options: OpticsOptions) => optics(shot, options));
}
