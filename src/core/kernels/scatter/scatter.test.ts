import { CancelledError } from '../../errors';
import { DiscSet } from '../../stations/focus/discs';
import { serialRunner } from '../../jobs';
import type { TaskRunner } from '../runtime/parallel';
import type { Disc, ScatterInput, Surface } from '.';
import { scatterKernel } from './jobs';
import { wasmScatter } from './wasm';

const [WIDTH, HEIGHT] = [150, 140];
const COUNT = WIDTH * HEIGHT;
const round = { blades: 0, curvature: 0, rotation: 0 };
const discs = new DiscSet({ pupil: round, obstruction: 0, squeeze: 1, rim: 0, catsEye: 0 });

/** Numbers between 0 and 1 that repeat for the same seed. */
function noise(seed: number): () => number {
  let state = seed;
  return () => (state = (state * 16807) % 2147483647) / 2147483647;
}

function inputOf(light: readonly Float32Array[], radius: Float32Array): ScatterInput {
  return {
    key: `${light[0]!.join()} ${radius.join()}`,
    width: WIDTH,
    height: HEIGHT,
    surfaces: [{ light, radius }],
    discs,
    cellX: new Uint8Array(WIDTH),
    cellY: new Uint8Array(HEIGHT),
    fill: true,
  };
}

const plane = (fill: (x: number, y: number) => number): Float32Array =>
  Float32Array.from({ length: COUNT }, (_, i) => fill(i % WIDTH, Math.floor(i / WIDTH)));

/** A scene of steps in depth with grain and lamps on it. */
function steps(): ScatterInput {
  const next = noise(11);
  const light = [1, 2, 3].map(() => plane(() => (next() < 0.002 ? 50 : next())));
  const radius = plane((x, y) => (x > 60 && x < 90 ? -6 : y > 80 ? 9.3 : x / 40));
  return inputOf(light, radius);
}

/** Every disc added to every pixel of its own, as its definition has it, and divided by what covers each. */
function plainly(light: Float32Array, disc: Disc): Float64Array {
  const sum = new Float64Array(COUNT);
  const cover = new Float64Array(COUNT);
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++)
      for (let row = -disc.reach; row <= disc.reach; row++) {
        let run = 0;
        let k = disc.rows[row + disc.reach]!;
        for (let column = -disc.reach; column <= disc.reach + 1; column++) {
          while (k < disc.rows[row + disc.reach + 1]! && disc.dx[k] === column) run += disc.weight[k++]!;
          const [u, v] = [x + column, y + row];
          if (u < 0 || v < 0 || u >= WIDTH || v >= HEIGHT) continue;
          sum[v * WIDTH + u]! += run * light[y * WIDTH + x]!;
          cover[v * WIDTH + u]! += run;
        }
      }
  return sum.map((value, i) => value / cover[i]!);
}

/** Does tasks one by one from the last: an order in which many threads might end them. */
const backwards: TaskRunner = {
  threads: 3,
  run: (tasks, options) => serialRunner.run([...tasks].reverse(), options),
};

describe('the scatter kernel', () => {
  const kernel = wasmScatter(serialRunner);

  it('does one surface as a convolution by definition does', async () => {
    const next = noise(5);
    const light = [1, 2, 3].map(() => plane(() => (next() < 0.01 ? 30 : next())));
    const result = await kernel.scatter(
      inputOf(
        light,
        plane(() => 5.25),
      ),
    );
    const disc = discs.disc(discs.stepOf(5.25), 'behind', 0, 0);
    light.forEach((source, c) => {
      const expected = plainly(source, disc);
      let worst = 0;
      expected.forEach((value, i) => (worst = Math.max(worst, Math.abs(value - result[c as 0]![i]!))));
      expect(worst).toBeLessThan(2e-4);
    });
  });

  it('gives the same bits in whatever order and on however many threads its parts are done', async () => {
    const one = await kernel.scatter(steps());
    const many = await wasmScatter(backwards).scatter(steps());
    many.forEach((other, c) =>
      expect(Buffer.from(other.buffer).equals(Buffer.from(one[c]!.buffer))).toBe(true),
    );
  });

  // The next band may lay its scratch buffer out differently, and takes it to be zero.
  it('leaves nothing behind in the scratch buffers', async () => {
    let bands = 0;
    const watching: TaskRunner = {
      threads: 2,
      async run(tasks, options) {
        await serialRunner.run(tasks, options);
        for (const task of tasks) {
          if (task.job !== 'scatter' || task.input.step !== 'scatterBand') continue;
          const { memory, scratch, plan } = task.input;
          // The band's own record comes first, wherever the rest lies.
          const HEADER = 128;
          const bytes = scatterKernel(task.input).bandBytes(plan, 128);
          const left = new Uint8Array(memory.buffer, scratch + HEADER, bytes - HEADER).findIndex(
            (byte) => byte !== 0,
          );
          expect(left).toBe(-1);
          bands++;
        }
      },
    };
    const next = noise(9);
    const light = [1, 2, 3].map(() => plane(() => (next() < 0.02 ? 300 : next())));
    // From before the focus to far behind it, over every coarser grid.
    const radius = plane((x) => (x / WIDTH) * 60 - 28);
    await wasmScatter(watching).scatter(inputOf(light, radius));
    expect(bands).toBe(2);
  });

  it('uses the pieces of the same picture again, and the memory for another', async () => {
    const first = await kernel.scatter(steps());
    await kernel.scatter(
      inputOf(
        [1, 2, 3].map(() => plane(() => 1)),
        plane(() => 3),
      ),
    );
    const again = await kernel.scatter(steps());
    const kept = await kernel.scatter(steps());
    for (const other of [again, kept])
      other.forEach((p, c) => expect(Buffer.from(p.buffer).equals(Buffer.from(first[c]!.buffer))).toBe(true));
  });

  it('neither makes nor loses light in a crowd of surfaces', async () => {
    const flat = [1, 2, 3].map(() => plane(() => 0.7));
    const result = await kernel.scatter(inputOf(flat, steps().surfaces[0]!.radius));
    for (const p of result) for (const value of p) expect(Math.abs(value - 0.7)).toBeLessThan(2e-5);
  });

  it('does large discs on coarser grids as at full size', async () => {
    const next = noise(3);
    const light = [1, 2, 3].map(() =>
      plane((x, y) => (next() < 0.001 ? 80 : 0.3 + 0.2 * Math.sin(x / 5 + y / 9))),
    );
    const radius = plane((x) => (x < 40 ? -11 : 14 + x / 12));
    const coarse = await kernel.scatter(inputOf(light, radius));
    // Discs that could differ over the field are all done at full size.
    const varied = {
      stepOf: discs.stepOf.bind(discs),
      disc: discs.disc.bind(discs),
      cellsAcross: 2,
      cellsDown: 1,
    };
    const full = await kernel.scatter({ ...inputOf(light, radius), discs: varied });
    let [worst, sum] = [0, 0];
    coarse[0].forEach((value, i) => {
      worst = Math.max(worst, Math.abs(value - full[0][i]!));
      sum += Math.abs(value - full[0][i]!);
    });
    expect(worst).toBeLessThan(0.04);
    expect(sum / COUNT).toBeLessThan(0.002);
  });

  it('changes by small steps when radii do', async () => {
    const next = noise(17);
    const light = [1, 2, 3].map(() => plane(() => (next() < 0.003 ? 20 : next())));
    const at = (focus: number): Promise<Float32Array[]> =>
      kernel.scatter(
        inputOf(
          light,
          plane((x, y) => (x > 70 ? 8 : -3) + y / 40 + focus),
        ),
      );
    const pictures: Float32Array[] = [];
    for (let focus = 0; focus < 1; focus += 0.1) pictures.push((await at(focus))[0]!);
    const changes = pictures.slice(1).map((later, k) => {
      const before = pictures[k]!;
      return later.reduce((sum, value, i) => sum + Math.abs(value - before[i]!), 0) / COUNT;
    });
    const mean = changes.reduce((sum, value) => sum + value, 0) / changes.length;
    // No step changes the picture by much more than the others do: nothing pops.
    for (const change of changes) expect(change).toBeLessThan(2 * mean);
  });

  it('tells its progress and can be given up', async () => {
    const told: number[] = [];
    await kernel.scatter(steps(), { progress: (done) => told.push(done) });
    expect(told.at(-1)).toBe(1);
    expect([...told].sort((a, b) => a - b)).toEqual(told);
    const control = new AbortController();
    control.abort();
    const { key, ...rest } = steps();
    await expect(kernel.scatter({ ...rest, key: `${key} anew` }, { signal: control.signal })).rejects.toThrow(
      CancelledError,
    );
  });
});

describe('several surfaces', () => {
  const kernel = wasmScatter(serialRunner);
  const flat = (value: number): Float32Array[] => [1, 2, 3].map(() => plane(() => value));
  const layered = (...surfaces: Surface[]): ScatterInput => ({
    ...inputOf(surfaces[0]!.light, surfaces[0]!.radius),
    key: surfaces.map(({ light, radius, coverage }) => [light[0], radius, coverage].join()).join(),
    surfaces,
  });
  const dot = plane((x, y) => (x === 75 && y === 70 ? 1 : 0));

  it('neither make nor lose light, however they lie before each other', async () => {
    const half = plane(() => 0.5);
    const radii = [plane(() => 9), plane((x) => (x > 70 ? -7 : 3)), plane(() => -12)];
    const result = await kernel.scatter(
      layered(
        { light: flat(0.7), radius: radii[0]! },
        { light: flat(0.35), coverage: half, radius: radii[1]! },
        { light: flat(0.35), coverage: half, radius: radii[2]! },
      ),
    );
    for (const p of result) for (const value of p) expect(Math.abs(value - 0.7)).toBeLessThan(2e-3);
  });

  // By definition: in focus the nearer covers the farther by its coverage, and one of nothing changes nothing.
  it('cover each other in focus as they are laid over each other', async () => {
    const still = plane(() => 0);
    const share = plane((x) => (x % 5) / 4);
    const light = [1, 2, 3].map(() => plane((x) => (0.3 * (x % 5)) / 4));
    const [red] = await kernel.scatter(
      layered({ light: flat(0.8), radius: still }, { light, coverage: share, radius: still }),
    );
    red.forEach((value, i) => {
      const a = ((i % WIDTH) % 5) / 4;
      expect(Math.abs(value - (0.3 * a + 0.8 * (1 - a)))).toBeLessThan(1e-6);
    });
    const nothing = { light: flat(0), coverage: plane(() => 0), radius: plane(() => -9) };
    const alone = await kernel.scatter(steps());
    const beside = await kernel.scatter(layered(steps().surfaces[0]!, nothing));
    // Gaps of a few hundredths are closed where there are several.
    alone.forEach((p, c) => p.forEach((value, i) => expect(beside[c]![i]).toBeCloseTo(value, 0)));
  });

  it('spread what lies before as its disc, and leave open what it leaves', async () => {
    const card = { light: flat(0), coverage: dot, radius: plane(() => -8) };
    const [red] = await kernel.scatter(layered({ light: flat(1), radius: plane(() => 0) }, card));
    const taken = red.reduce((sum, value) => sum + 1 - value, 0);
    expect(taken).toBeCloseTo(1, 3);
    // The area of the disc is about pi r^2, all of it taken alike.
    const most = 1 - Math.min(...red);
    const touched = red.filter((value) => 1 - value > most / 2).length;
    expect(Math.abs(touched / (Math.PI * 64) - 1)).toBeLessThan(0.2);
  });

  it('do not let a lamp shine through where discs of two sizes meet', async () => {
    const lamps = [1, 2, 3].map(() => plane((x, y) => (Math.hypot(x - 75, y - 70) < 9 ? 900 : 0.1)));
    const wall = { light: flat(0.2), coverage: plane(() => 1), radius: plane((x) => -0.6 - x / 60) };
    const result = await kernel.scatter(layered({ light: lamps, radius: plane(() => 2) }, wall));
    // About the lamps; at the frame's edge the wall ends.
    for (let y = 50; y < 90; y++)
      for (let x = 55; x < 95; x++) expect(Math.abs(result[0][y * WIDTH + x]! - 0.2)).toBeLessThan(1e-3);
  });

  // By definition: a surface that goes on covers what lies behind it, in focus, out of focus and where it changes.
  it('do not let what lies behind shine through where a slope goes out of focus', async () => {
    const slope = (x: number, y: number): number => (x + y - 150) / 60;
    const cases = [slope, (x: number, y: number) => -slope(x, y), (x: number) => (x > 75 ? 0.7 : 0.4)];
    for (const radius of cases) {
      const wall = { light: flat(0.2), coverage: plane(() => 1), radius: plane(radius) };
      const [red] = await kernel.scatter(layered({ light: flat(50), radius: plane(() => 9) }, wall));
      for (let y = 4; y < HEIGHT - 4; y++)
        for (let x = 4; x < WIDTH - 4; x++) expect(Math.abs(red[y * WIDTH + x]! - 0.2)).toBeLessThan(1e-4);
    }
  });

  it('stay as thin where they go out of focus as they are', async () => {
    const radius = plane((x, y) => (x + y - 150) / 60);
    const smoke = { light: flat(0.14), coverage: plane(() => 0.7), radius };
    const [red] = await kernel.scatter(layered({ light: flat(1), radius: plane(() => 0) }, smoke));
    for (let y = 4; y < HEIGHT - 4; y++)
      for (let x = 4; x < WIDTH - 4; x++) expect(red[y * WIDTH + x]).toBeGreaterThan(0.38);
  });

  it('give the same bits on any number of threads', async () => {
    const next = noise(5);
    const input = layered(steps().surfaces[0]!, {
      light: [1, 2, 3].map(() => plane(() => 0.4 * next())),
      coverage: plane((x) => Math.min(1, Math.max(0, (x - 60) / 30))),
      radius: plane((x, y) => -3 - y / 30),
    });
    const [one, other] = [await kernel.scatter(input), await wasmScatter(backwards).scatter(input)];
    one.forEach((p, c) => expect(Buffer.from(p.buffer).equals(Buffer.from(other[c]!.buffer))).toBe(true));
  });
});
