import { arrivalAdvice } from '../../core/light/arrival-advice';
import type { Command } from 'commander';
import { plateFiles, withPlate } from '../options';
import { createHash } from 'node:crypto';
import { makePlate } from '../../core/light/plate';
import { atFile } from '../../core/errors';
import { readParts } from '../../core/formats/exr/read';
import type { StoredPart } from '../../core/formats/exr/types';
import { findDepth, holdsLight, passesOf } from '../../core/image/passes';
import { channelFloats, type Channel, type Picture } from '../../core/image/picture';
import { pixelAspectOf } from '../../core/image/pixel-aspect';
import { channelStatistics } from '../../core/image/statistics';
import type { TaskRunner } from '../../core/kernels/runtime/parallel';
import { readBytes, readPicture } from '../files';
import { withThreads } from '../threads';

interface InspectOptions {
  json?: boolean;
  hash?: boolean;
}

/** SHA-256 of samples as little-endian float32, row-major, top row first; a half NaN keeps its payload. */
function hashOf(channel: Pick<Channel, 'samples'>): string {
  const floats = channelFloats(channel);
  return createHash('sha256')
    .update(new Uint8Array(floats.buffer, floats.byteOffset, floats.byteLength))
    .digest('hex');
}

/** Each part of an OpenEXR file exactly as it is stored; undefined for other formats. */
async function storedParts(path: string, runner: TaskRunner): Promise<StoredPart[] | undefined> {
  const bytes = readBytes(path);
  if (bytes.length < 4 || new DataView(bytes.buffer, bytes.byteOffset).getUint32(0, true) !== 20000630)
    return undefined;
  try {
    return await readParts(bytes, { runner });
  } catch (error) {
    throw atFile(error, path);
  }
}

function partReport(part: StoredPart): object {
  return {
    name: part.name,
    compression: part.compression,
    tiles: part.tiling ?? null,
    dataWindow: part.dataWindow,
    displayWindow: part.displayWindow,
    channels: part.channels.map((channel) => ({
      name: channel.name,
      type: channel.type,
      xs: channel.xSampling,
      ys: channel.ySampling,
      w: channel.columns,
      h: channel.rows,
      sha256_f32: hashOf(channel),
    })),
    warnings: part.warnings,
  };
}

/** Tells what a picture's files hold and what would be taken for beauty and depth. */
async function inspect(paths: readonly string[], options: InspectOptions, runner: TaskRunner): Promise<void> {
  const picture = await readPicture(paths, runner);
  const report = describe(paths, picture, options.hash ?? false);
  const stored = options.hash && paths.length === 1 ? await storedParts(paths[0]!, runner) : undefined;
  const parts = stored?.map(partReport);
  if (options.json) {
    process.stdout.write(`${JSON.stringify({ ...report, ...(parts && { parts }) }, null, 2)}\n`);
    return;
  }
  process.stdout.write(`${inWords(report, picture)}\n`);
}

function describe(paths: readonly string[], picture: Picture, hash: boolean) {
  const passes = passesOf(picture);
  const plate = passes.some(holdsLight) ? makePlate('plate', paths[0]!, picture) : undefined;
  return {
    file: paths[0]!,
    ...(paths.length > 1 && { files: paths }),
    width: picture.width,
    height: picture.height,
    compression: picture.compression,
    dataWindow: picture.dataWindow,
    displayWindow: picture.displayWindow,
    pixelAspect: pixelAspectOf(picture.attributes),
    beauty: plate?.beauty.name ?? null,
    depth: findDepth(passes)?.name ?? null,
    passes: passes.map((pass) => ({
      name: pass.name,
      kind: pass.kind,
      role: pass.role,
      ...(pass.doubt && { doubt: pass.doubt }),
      channels: pass.channels.map(({ channel }) => ({
        name: channel.name,
        type: channel.type,
        ...channelStatistics(channelFloats(channel)),
        ...(hash && { sha256_f32: hashOf(channel) }),
      })),
    })),
    attributes: Object.fromEntries([...picture.attributes].map(([name, { type }]) => [name, type])),
    warnings: [
      ...(plate?.picture ?? picture).warnings,
      ...(plate ? arrivalAdvice(plate) : ['no pass of it holds colour, so it cannot be a plate']),
    ],
  };
}

function inWords(report: ReturnType<typeof describe>, picture: Picture): string {
  const window = ({ xMin, yMin, xMax, yMax }: Picture['dataWindow']): string =>
    `${xMin} ${yMin} to ${xMax} ${yMax}`;
  const lines = [
    `${report.file}: ${report.width} x ${report.height}, ${report.compression}`,
    `data window ${window(picture.dataWindow)}, display window ${window(picture.displayWindow)}`,
    `beauty: ${report.beauty ?? 'none'}   depth: ${report.depth ?? 'none'}`,
  ];
  const show = (value: number): string => value.toPrecision(5);
  for (const pass of report.passes) {
    lines.push(
      '',
      `${pass.name} (${pass.role}, ${pass.kind})${pass.doubt ? `, in doubt: ${pass.doubt}` : ''}`,
    );
    for (const c of pass.channels) {
      const odd = c.nan + c.infinite ? `   ${c.nan} NaN, ${c.infinite} infinite` : '';
      lines.push(
        `  ${c.name.padEnd(24)} ${c.type.padEnd(5)}  min ${show(c.min)}  max ${show(c.max)}  mean ${show(c.mean)}${odd}`,
      );
      if ('sha256_f32' in c) lines.push(`    sha256 ${c.sha256_f32}`);
    }
  }
  for (const warning of report.warnings) lines.push('', `note: ${warning}`);
  return lines.join('\n');
}

export function addInspect(program: Command): void {
  withPlate(program.command('inspect'))
    .description('what a picture file holds, and what is taken for beauty and depth')
    .option('--json', 'as JSON')
    .option('--hash', 'with the SHA-256 of every channel as it is stored')
    .action((file: string | undefined, options: InspectOptions & { plate: string[] }) =>
      withThreads((runner) => inspect(plateFiles(file, options.plate), options, runner)),
    );
}
