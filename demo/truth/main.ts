import { PAIRS, PUPIL_NAMES } from './pairs';
import { isTraced, measure, pinholePlate } from './measure';

/** Prints how near the computed depth of field comes to the traced one, for every pair and pupil. */
const plate = pinholePlate();
const rows = [['f-stop', 'focus', 'pupil', 'PSNR', 'PSNR of what is seen', 'share seen', 'SSIM', 'relative']];
for (const pair of PAIRS.filter(isTraced))
  for (const pupil of PUPIL_NAMES) {
    const { likeness } = await measure(plate, pair, pupil);
    rows.push([
      `f/${pair.fStop}`,
      `${pair.focus} m`,
      pupil,
      likeness.psnr.toFixed(1),
      likeness.recoverable.toFixed(1),
      `${Math.round(likeness.share * 100)} %`,
      likeness.ssim.toFixed(3),
      likeness.relative.toFixed(3),
    ]);
  }
const widths = rows[0]!.map((_, k) => Math.max(...rows.map((row) => row[k]!.length)));
for (const row of rows) console.log(row.map((cell, k) => cell.padEnd(widths[k]!)).join('  '));
