import FFT from 'fft.js';

/*
 * The image of a point through a straight-bladed opening, by a Fourier transform of a library: |FFT(P)|^2 (Goodman 1968, Introduction to Fourier
 * Optics, ch. 4), summed over the wavelengths of an even spectrum as the eye weighs them.
 */
const SIZE = 1024;
const ACROSS = 256;

/** Gaussian about 555 nm with a half width of 100 nm, close to the photopic curve (from memory). */
const eye = (nanometres: number): number => Math.exp(-0.5 * ((nanometres - 555) / 42) ** 2);
const WAVELENGTHS = Array.from({ length: 31 }, (_, k) => 430 + 9 * k);

/** How much of a pixel lies within a polygon whose corners lie on a circle; `turn` is the direction of its first corner. */
function opening(blades: number, turn: number): Float64Array {
  const apothem = Math.cos(Math.PI / blades);
  const isInside = (x: number, y: number): boolean =>
    Array.from({ length: blades }, (_, k) => turn + (2 * Math.PI * (k + 0.5)) / blades).every(
      (normal) => x * Math.cos(normal) + y * Math.sin(normal) <= apothem,
    );
  const sub = 4;
  return Float64Array.from({ length: ACROSS * ACROSS }, (_, i) => {
    let inside = 0;
    for (let k = 0; k < sub * sub; k++) {
      const x = (i % ACROSS) + ((k % sub) + 0.5) / sub;
      const y = Math.floor(i / ACROSS) + (Math.floor(k / sub) + 0.5) / sub;
      if (isInside((2 * x) / ACROSS - 1, (2 * y) / ACROSS - 1)) inside++;
    }
    return inside / sub ** 2;
  });
}

/** The power spectrum of an opening, its middle in the middle. */
function powerSpectrum(pupil: Float64Array): Float64Array {
  const fft = new FFT(SIZE);
  const rows = Array.from({ length: SIZE }, (_, y) => {
    const row: number[] = fft.createComplexArray();
    row.fill(0);
    if (y < ACROSS) for (let x = 0; x < ACROSS; x++) row[2 * x] = pupil[y * ACROSS + x]!;
    const out: number[] = fft.createComplexArray();
    fft.transform(out, row);
    return out;
  });
  const power = new Float64Array(SIZE * SIZE);
  const column: number[] = fft.createComplexArray();
  const out: number[] = fft.createComplexArray();
  for (let x = 0; x < SIZE; x++) {
    for (let y = 0; y < SIZE; y++) {
      column[2 * y] = rows[y]![2 * x]!;
      column[2 * y + 1] = rows[y]![2 * x + 1]!;
    }
    fft.transform(out, column);
    for (let y = 0; y < SIZE; y++) {
      const place = ((y + SIZE / 2) % SIZE) * SIZE + ((x + SIZE / 2) % SIZE);
      power[place] = out[2 * y]! ** 2 + out[2 * y + 1]! ** 2;
    }
  }
  return power;
}

/**
 * The light about a point through a polygon, `2 * reach + 1` squared at half a pixel, whose sum over pixels is 1. `unit` is the pixels of a
 * wavelength of 555 nm times the f-number.
 */
export function polygonImage(
  blades: number,
  { turn, unit, reach }: { turn: number; unit: number; reach: number },
): (x: number, y: number) => number {
  const power = powerSpectrum(opening(blades, turn));
  const half = 2 * reach;
  const side = 2 * half + 1;
  const image = new Float64Array(side * side);
  for (const nanometres of WAVELENGTHS) {
    // A step of the spectrum is a wavelength times the f-number, over how much larger the grid is than the pupil.
    const step = ((unit * nanometres) / 555) * (ACROSS / SIZE);
    const weight = eye(nanometres) / step ** 2;
    for (let row = -half; row <= half; row++)
      for (let column = -half; column <= half; column++)
        image[(row + half) * side + column + half]! +=
          weight * bilinear(power, SIZE, column / 2 / step + SIZE / 2, row / 2 / step + SIZE / 2);
  }
  const sum = image.reduce((all, value) => all + value, 0) / 4;
  return (x, y) => bilinear(image, side, 2 * x + half, 2 * y + half) / sum;
}

function bilinear(plane: Float64Array, size: number, x: number, y: number): number {
  const [left, top] = [Math.floor(x), Math.floor(y)];
  if (left < 0 || top < 0 || left + 1 >= size || top + 1 >= size) return 0;
  const [fx, fy] = [x - left, y - top];
  const at = (dx: number, dy: number): number => plane[(top + dy) * size + left + dx]!;
  return (1 - fy) * ((1 - fx) * at(0, 0) + fx * at(1, 0)) + fy * ((1 - fx) * at(0, 1) + fx * at(1, 1));
}
