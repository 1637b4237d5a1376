import * as Three from 'three';
import { EXRLoader } from 'three/examples/jsm/loaders/EXRLoader.js';
import { HDRLoader } from 'three/examples/jsm/loaders/HDRLoader.js';
import { writeExr } from '../../src/core/formats/exr/write';
import { writeHdr } from '../../src/core/formats/hdr/write';
import { floatsToHalves, halvesToFloats } from '../../src/core/image/half';
import { addChannel, emptyPicture } from '../../src/core/image/picture';

const [WIDTH, HEIGHT] = [53, 41];
const COUNT = WIDTH * HEIGHT;
const plane = (c: number): Float32Array =>
  Float32Array.from({ length: COUNT }, (_, i) => ((i * 37 + c * 11) % 997) * 0.013 + (i === 500 ? 900 : 0));

/** What a loader of the library gives: rows from the bottom up, four values a pixel. */
interface Loaded {
  width: number;
  height: number;
  data: ArrayLike<number>;
}

const valueAt = ({ data }: Loaded, i: number, c: number): number => {
  const [x, y] = [i % WIDTH, Math.floor(i / WIDTH)];
  return data[((HEIGHT - 1 - y) * WIDTH + x) * 4 + c]!;
};

// Source: three.js, whose loaders share no code with this project.
describe('pictures that are written', () => {
  it.each(['half', 'float'] as const)('as OpenEXR %s are read exactly by another library', async (type) => {
    const picture = emptyPicture(WIDTH, HEIGHT);
    ['R', 'G', 'B', 'A'].forEach((name, c) =>
      addChannel(picture, name, type, type === 'half' ? floatsToHalves(plane(c)) : plane(c)),
    );
    const loader = new EXRLoader();
    loader.setDataType(Three.FloatType);
    const read = loader.parse((await writeExr(picture)).buffer) as unknown as Loaded;
    expect([read.width, read.height]).toEqual([WIDTH, HEIGHT]);
    for (let c = 0; c < 4; c++) {
      const wanted = type === 'half' ? halvesToFloats(floatsToHalves(plane(c))) : plane(c);
      let wrong = 0;
      for (let i = 0; i < COUNT; i++) if (valueAt(read, i, c) !== wanted[i]) wrong++;
      expect(wrong).toBe(0);
    }
  });

  it('as Radiance HDR are read by another library within a step of the format', () => {
    const planes = [0, 1, 2].map(plane);
    const loader = new HDRLoader();
    loader.setDataType(Three.FloatType);
    const read = loader.parse(writeHdr(planes, WIDTH, HEIGHT).buffer) as unknown as Loaded;
    expect([read.width, read.height]).toEqual([WIDTH, HEIGHT]);
    for (let i = 0; i < COUNT; i++) {
      const most = Math.max(...planes.map((one) => one[i]!));
      // This loader keeps the rows from the top down.
      planes.forEach((one, c) =>
        expect(Math.abs(read.data[i * 4 + c]! - one[i]!)).toBeLessThanOrEqual(most / 100 + 1e-6),
      );
    }
  });
});
