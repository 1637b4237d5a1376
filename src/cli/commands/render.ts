import { ContentCache } from '../../core/bench/cache';
import { evaluate } from '../../core/bench/evaluate';
import { cutRegion, type Region } from '../../core/bench/region';
import { SettingError } from '../../core/errors';
import { kernelsOn } from '../../core/kernels';
import { kindOfFile, WRITE_EXTENSIONS } from '../../core/print/encode';
import { print, type PrintFormat } from '../../core/print/print';
import { startThreads } from '../../engine/node/threads';
import { openBackdrop, openImages, openLook, openPlate, writeBytes } from '../files';
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
  bits?: '8' | '16' | 'half' | 'float';
  json?: boolean;
}

/** Where the bundled worker thread lies: beside the bundled command line. */
const TASK_THREAD = new URL('./task-thread.mjs', import.meta.url);

/** Sends a plate along the bench and writes the final. */
export async function render(files: readonly string[], options: RenderOptions): Promise<void> {
  const format = formatOf(options);
  const look = openLook(options.look, options.set);
  const plate = await openPlate(files);
  const backdrop = await openBackdrop(look);
  const image = await openImages(look);
  const threads = startThreads(TASK_THREAD, options.workers);
  const bar = progressLine('computing');
  try {
    const { light, accounts, cleaned } = await evaluate(
      look,
      {
        plate,
        backdrop,
        image,
        separate: options.separations,
        cache: new ContentCache(0),
        kernels: kernelsOn(threads.parallel),
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
    if (options.json) {
      const touched = cleaned && { despiked: cleaned.despiked, clamped: cleaned.clamped };
      process.stdout.write(`${JSON.stringify({ out: options.out, accounts, touched }, null, 2)}\n`);
    }
  } finally {
    bar.end();
    await threads.close();
  }
}

function formatOf({ out, type, bits, separations }: RenderOptions): PrintFormat {
  const kind = kindOfFile(out);
  if (kind === 'exr') return { kind, samples: type, separations: separations ?? false };
  if (separations)
    throw new SettingError('only OpenEXR can hold separations', {
      where: '--separations',
      todo: 'Write OpenEXR',
    });
  return flatFormat(out, bits);
}

/** The format that a file's ending and the wanted samples ask for. */
export function flatFormat(out: string, bits: RenderOptions['bits']): Exclude<PrintFormat, { kind: 'exr' }> {
  const kind = kindOfFile(out);
  switch (kind) {
    case 'png':
      if (bits === 'half' || bits === 'float')
        throw new SettingError(`a PNG holds 8 or 16 bits, not ${bits}`, { where: '--bits' });
      return { kind, bits: bits === '16' ? 16 : 8 };
    case 'tiff':
      return { kind, samples: bits ?? 'float' };
    case 'hdr':
    case 'pfm':
      return { kind };
    default:
      throw new SettingError(
        `${out} ends in none of ${WRITE_EXTENSIONS.map((end) => `.${end}`).join(', ')}`,
        {
          where: out,
        },
      );
  }
}
