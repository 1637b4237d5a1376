import { mkdirSync } from 'node:fs';
import sharp from 'sharp';
import type { Rgb } from '../../src/core/image/rgb';
import { bokehAt, DISTANCES } from './bokeh';
import {
  isTraced,
  measure,
  measureRow,
  onDisplay,
  pinholePlate,
  stackedPlate,
  type Compared,
} from './measure';
import { PAIRS, PUPIL_NAMES, ROW_PAIRS, SIZE, STACK_NAMES, type Pair, type PupilName } from './pairs';

/**
 * Prints how near the computed depth of field comes to the traced one, for every pair and pupil, and the diameters of
 * single discs. With a folder as argument it also writes pictures there: truth, ours, and the difference.
 */
const [folder] = process.argv.slice(2);

function table(rows: string[][]): void {
  const widths = rows[0]!.map((_, k) => Math.max(...rows.map((row) => row[k]!.length)));
  for (const [index, row] of rows.entries()) {
    console.log(`| ${row.map((cell, k) => cell.padEnd(widths[k]!)).join(' | ')} |`);
    if (index === 0) console.log(`| ${widths.map((width) => '-'.repeat(width)).join(' | ')} |`);
  }
}

/** Differences on the display are drawn out so many times. */
const DRAWN_OUT = 4;

/** Truth, ours and the difference beside each other, at half size. */
async function writePicture(file: string, { ours, truth }: Compared): Promise<void> {
  const { width, height } = SIZE;
  const [a, b] = [onDisplay(truth), onDisplay(ours)];
  const three = [a, b, a.map((value, i) => 0.5 + DRAWN_OUT * (b[i]! - value))];
  const panels = await Promise.all(
    three.map((display) =>
      sharp(Buffer.from(Uint8Array.from(display, (v) => Math.round(255 * Math.min(1, Math.max(0, v))))), {
        raw: { width, height, channels: 3 },
      })
        .resize(width / 2)
        .png()
        .toBuffer(),
    ),
  );
  await sharp({
    create: { width: (width / 2) * 3 + 16, height: height / 2, channels: 3, background: '#000' },
  })
    .composite(panels.map((input, k) => ({ input, left: k * (width / 2 + 8), top: 0 })))
    .jpeg({ quality: 88 })
    .toFile(file);
}

const isFinite3 = (rgb: Rgb): boolean => rgb.every((plane) => plane.every(Number.isFinite));
const rows = [
  [
    'plate',
    'lens',
    'focus',
    'pupil',
    'PSNR',
    'of what is seen',
    'seen',
    'SSIM',
    'relative',
    'two tracings agree',
  ],
];
async function addRow(name: string, pair: Pair, pupil: PupilName, compared: Compared): Promise<void> {
  if (!isFinite3(compared.ours)) throw new Error(`the result for ${pupil} has numbers that are not finite`);
  const { psnr, recoverable, share, ssim, relative, agreement } = compared.likeness;
  rows.push([
    name,
    `f/${pair.fStop}`,
    `${pair.focus} m`,
    pupil,
    `${psnr.toFixed(1)} dB`,
    `${recoverable.toFixed(1)} dB`,
    `${Math.round(share * 100)} %`,
    ssim.toFixed(3),
    relative.toFixed(3),
    `${agreement.toFixed(1)} dB`,
  ]);
  if (!folder) return;
  mkdirSync(folder, { recursive: true });
  await writePicture(`${folder}/${name}-f${pair.fStop}-${pair.focus}m-${pupil}.jpg`, compared);
}
const plate = await pinholePlate();
for (const pair of PAIRS.filter(isTraced))
  for (const pupil of PUPIL_NAMES) await addRow('quay', pair, pupil, await measure(plate, pair, pupil));
for (const stack of STACK_NAMES) {
  const stacked = await stackedPlate(stack);
  for (const pair of ROW_PAIRS)
    for (const pupil of PUPIL_NAMES)
      await addRow(`row, ${stack} elements`, pair, pupil, await measureRow(stacked, pair, pupil));
}
if (rows.length > 1) table(rows);
else console.log('No pair is traced yet: npm run truth trace (an hour; or trace 1.4, trace 2.8).');

console.log('\nDiameter of a lone disc in pixels:\n');
const discs = [['lens', 'focus', 'distance', 'formula', 'traced', 'computed']];
for (const pair of PAIRS)
  for (const distance of DISTANCES) {
    const { formula, traced, computed } = await bokehAt(pair, distance);
    discs.push([
      `f/${pair.fStop}`,
      `${pair.focus} m`,
      `${distance} m`,
      ...[formula, traced, computed].map((value) => value.toFixed(2)),
    ]);
  }
table(discs);
