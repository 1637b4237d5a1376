import { scopesOf } from './scopes';

function picture(width: number, height: number, colour: (x: number, y: number) => readonly number[]) {
  const pixels = new Uint8ClampedArray(4 * width * height);
  for (let i = 0; i < width * height; i++)
    pixels.set([...colour(i % width, Math.floor(i / width)), 255], 4 * i);
  return { width, height, pixels };
}

describe('scopes', () => {
  it('count one of every two by two pixels, and every column in turn', () => {
    const { histogram, black, white } = scopesOf(picture(256, 8, (x) => [x, 128, 255]));
    expect(histogram.red).toEqual(new Array(256).fill(2));
    expect(histogram.green[128]).toBe(512);
    expect(histogram.blue[255]).toBe(512);
    expect([black, white]).toEqual([2 / 512, 1]);
  });

  it('draw a ramp as a rising line', () => {
    const { luma, channels } = scopesOf(picture(256, 8, (x) => [x, x, x]));
    for (const x of [0, 60, 130, 255]) {
      const lit = Array.from({ length: luma.height }, (_, y) => luma.pixels[4 * (y * luma.width + x)]!);
      expect(lit.findIndex((value) => value > 0)).toBe(127 - (x >> 1));
      expect(lit.filter((value) => value > 0)).toHaveLength(1);
    }
    expect(channels.pixels).toEqual(luma.pixels);
  });

  // Source: ITU-R BT.709-6: grey has no colour difference; of pure blue Cb is 0.5, of pure red Cr is 0.5.
  it('put grey in the middle, blue to the right and red on top', () => {
    const place = (colour: readonly number[]): [number, number] => {
      const { chroma } = scopesOf(picture(8, 8, () => colour));
      const at = chroma.pixels.findIndex((value, i) => i % 4 === 0 && value > 0) / 4;
      return [at % chroma.width, Math.floor(at / chroma.width)];
    };
    const [x, y] = place([90, 90, 90]);
    expect(Math.abs(x - 63.5)).toBeLessThan(1);
    expect(Math.abs(y - 63.5)).toBeLessThan(1);
    expect(place([0, 0, 255])[0]).toBe(127);
    expect(place([255, 0, 0])[1]).toBe(0);
  });
});
