import { makePlate } from '../../core/bench/plate';
import { channelFloats } from '../../core/image/picture';
import { channelStatistics } from '../../core/image/statistics';
import { openPicture } from '../../core/formats/open';
import { holdsLight, passesOf } from '../../core/image/passes';
import { readBytes } from '../files';

/** Tells what a picture file holds and what would be taken for beauty and depth. */
export function inspect(file: string, options: { json?: boolean }): void {
  const picture = openPicture(readBytes(file), file);
  const passes = passesOf(picture);
  const plate = passes.some(holdsLight) ? makePlate('plate', file, picture) : undefined;
  const report = {
    file,
    width: picture.width,
    height: picture.height,
    compression: picture.compression,
    dataWindow: picture.dataWindow,
    displayWindow: picture.displayWindow,
    beauty: plate?.beauty.name ?? null,
    depth: passes.find((pass) => pass.kind === 'depth')?.name ?? null,
    passes: passes.map((pass) => ({
      name: pass.name,
      kind: pass.kind,
      channels: pass.channels.map(({ channel }) => ({
        name: channel.name,
        type: channel.type,
        ...channelStatistics(channelFloats(channel)),
      })),
    })),
    attributes: Object.fromEntries([...picture.attributes].map(([name, { type }]) => [name, type])),
    warnings: picture.warnings,
  };
  if (options.json) {
    process.stdout.write(`${JSON.stringify(report, null, 2)}\n`);
    return;
  }
  const window = ({ xMin, yMin, xMax, yMax }: typeof picture.dataWindow): string =>
    `${xMin} ${yMin} to ${xMax} ${yMax}`;
  const lines = [
    `${file}: ${report.width} x ${report.height}, ${report.compression}`,
    `data window ${window(picture.dataWindow)}, display window ${window(picture.displayWindow)}`,
    `beauty: ${report.beauty ?? 'none'}   depth: ${report.depth ?? 'none'}`,
  ];
  const show = (value: number): string => value.toPrecision(5);
  for (const pass of report.passes) {
    lines.push('', `${pass.name} (${pass.kind})`);
    for (const c of pass.channels) {
      const odd = c.nan + c.infinite ? `   ${c.nan} NaN, ${c.infinite} infinite` : '';
      lines.push(
        `  ${c.name.padEnd(24)} ${c.type.padEnd(5)}  min ${show(c.min)}  max ${show(c.max)}  mean ${show(c.mean)}${odd}`,
      );
    }
  }
  for (const warning of report.warnings) lines.push('', `note: ${warning}`);
  if (!plate) lines.push('', 'note: no pass of it holds colour, so it cannot be a plate');
  process.stdout.write(`${lines.join('\n')}\n`);
}
