import type { PrintOptions } from '../core/print/print-options';

/** What `bokelux reel` is told about how it is to print. */
export function reelArguments(options: PrintOptions): string[] {
  const { kind, samples, separations, primaries, beforeFilm, alpha, width, frames } = options;
  const isExr = kind === 'exr';
  return [
    ...(isExr ? ['--type', samples === 'float' ? 'float' : 'half'] : []),
    ...(kind === 'png' || kind === 'tiff' ? ['--bits', samples] : []),
    ...(isExr && separations ? ['--separations'] : []),
    ...['--primaries', primaries],
    ...(beforeFilm ? ['--before-film'] : []),
    ...(isExr ? [] : ['--alpha', alpha]),
    ...(width === undefined ? [] : ['--width', String(width)]),
    ...(frames === undefined ? [] : ['--frames', frames]),
  ];
}
