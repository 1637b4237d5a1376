import { ContentCache } from '../../core/bench/cache';
import { evaluate } from '../../core/bench/evaluate';
import { cutRegion, type Region } from '../../core/bench/region';
import { SettingError } from '../../core/errors';
import { referenceConvolution } from '../../core/kernels/convolve';
import { print, type PrintFormat } from '../../core/print/print';
import { startThreads } from '../../engine/node/threads';
import { openLook, openPlate, writeBytes } from '../files';
import { progressLine } from '../progress';

export interface RenderOptions {
  look?: string;
  set: string[];
  out: string;
  separations?: boolean;
  scale: number;
  region?: Region;
  workers?: number;
  type: 'plate' | 'half' | 'float';
  bits: 8 | 16;
  json?: boolean;
}

/** Where the bundled worker thread lies: beside the bundled command line. */
const TASK_THREAD = new URL('./task-thread.mjs', import.meta.url);

/** Sends a plate along the bench and writes the final. */
export async function render(file: string, options: RenderOptions): Promise<void> {
  const format = formatOf(options);
  const look = openLook(options.look, options.set);
  const plate = openPlate(file);
  const threads = startThreads(TASK_THREAD, options.workers);
  const bar = progressLine('computing');
  try {
    const { light, accounts } = await evaluate(
      look,
      {
        plate,
        cache: new ContentCache(0),
        convolution: referenceConvolution(threads.parallel),
        progress: bar.step,
      },
      { scale: options.scale },
    );
    bar.end();
    const { region } = options;
    const printed = print({ plate, look, light: region ? cutRegion(light, region) : light, format, region });
    writeBytes(options.out, printed.bytes);
    for (const warning of [...plate.picture.warnings, ...printed.warnings])
      process.stderr.write(`note: ${warning}\n`);
    if (options.json) process.stdout.write(`${JSON.stringify({ out: options.out, accounts }, null, 2)}\n`);
  } finally {
    bar.end();
    await threads.close();
  }
}

function formatOf(options: RenderOptions): PrintFormat {
  const extension = /\.(\w+)$/.exec(options.out)?.[1]?.toLowerCase();
  if (extension === 'exr')
    return { kind: 'exr', samples: options.type, separations: options.separations ?? false };
  if (extension !== 'png') {
    throw new SettingError(`${options.out} ends in neither .exr nor .png`, { where: '--out' });
  }
  if (options.separations)
    throw new SettingError('a PNG cannot hold separations', {
      where: '--separations',
      todo: 'Write OpenEXR',
    });
  return { kind: 'png', bits: options.bits };
}
