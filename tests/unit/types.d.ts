/** Packages used by tests only that come without types. */
declare module 'fft.js' {
  export default class FFT {
    constructor(size: number);
    createComplexArray(): number[];
    transform(output: number[], input: number[]): void;
    inverseTransform(output: number[], input: number[]): void;
  }
}
declare module 'culori' {
  export function converter(mode: 'hsv'): (colour: { mode: string; r: number; g: number; b: number }) => {
    h?: number;
  };
  export function converter(mode: 'rgb' | 'lrgb' | 'p3' | 'rec2020'): (
    colour:
      { mode: string; r: number; g: number; b: number } | { mode: 'xyz65'; x: number; y: number; z: number },
  ) => {
    mode: string;
    r: number;
    g: number;
    b: number;
  };
}
