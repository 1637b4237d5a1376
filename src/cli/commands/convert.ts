import type { Command } from 'commander';
import { bitsOption, samplesOption } from '../options';
import { makePlate, passLight } from '../../core/light/plate';
import { viewOf } from '../../core/color/view';
import { writeExr } from '../../core/formats/exr/write';
import { floatsToHalves } from '../../core/image/half';
import { channelFloats, type Channel, type Picture } from '../../core/image/picture';
import { encodeFlat, kindOfFile } from '../../core/print/encode';
import type { TaskRunner } from '../../core/kernels/runtime/parallel';
import { readPicture, writeBytes } from '../files';
import { withThreads } from '../threads';
import { flatFormat, type RenderOptions } from '../render-file';

export type ConvertOptions = Pick<RenderOptions, 'type' | 'bits'>;

/** Reads a picture and writes it in the format that the other name's ending asks for. */
async function convert(from: string, to: string, options: ConvertOptions, runner: TaskRunner): Promise<void> {
  const format = kindOfFile(to) === 'exr' ? undefined : flatFormat(to, options.bits);
  const picture = await readPicture([from], runner);
  let { warnings } = picture;
  if (format) {
    const plate = makePlate('plate', from, picture);
    const { rgb } = passLight(plate, plate.beauty, 1);
    const { width, height } = plate.picture;
    warnings = plate.picture.warnings;
    writeBytes(to, encodeFlat(rgb, width, height, format, viewOf('srgb')));
  } else {
    writeBytes(to, await writeExr(asType(picture, options.type), { runner }));
  }
  for (const warning of warnings) process.stderr.write(`note: ${warning}\n`);
}

/** The picture with its half and float channels in one type; whole numbers stay. */
function asType(picture: Picture, type: RenderOptions['type']): Picture {
  if (type === 'plate') return picture;
  const channels = new Map<string, Channel>();
  for (const [name, channel] of picture.channels) {
    if (channel.type === 'uint' || channel.type === type) channels.set(name, channel);
    else {
      const floats = channelFloats(channel);
      channels.set(name, { name, type, samples: type === 'half' ? floatsToHalves(floats) : floats });
    }
  }
  return { ...picture, channels };
}

export function addConvert(program: Command): void {
  program
    .command('convert')
    .description('write a picture in another format: OpenEXR keeps every channel, the others the beauty')
    .argument('<IN>')
    .argument('<OUT>', 'ends in .exr, .png, .tiff, .hdr or .pfm')
    .addOption(samplesOption())
    .addOption(bitsOption())
    .action((from: string, to: string, options: ConvertOptions) =>
      withThreads((runner) => convert(from, to, options, runner)),
    );
}
