import { pupilArea, pupilOutline } from '../../src/core/optics/pupil';
import type { LampSample, Tracer } from '../tracer/integrator';
import { MATTE_AT } from '../tracer/integrator';
import { PUPILS, SIZE, type PupilName } from './pairs';

/**
 * Rays through all of a lens, each laid into the pictures of every focus distance and pupil that it belongs to: where a
 * ray lies in a picture depends on the focus only by where it passes the lens (Levoy & Hanrahan 1996, Light field
 * rendering). One tracing so serves all of them.
 */
const { width: WIDTH, height: HEIGHT } = SIZE;

/** A picture that rays are laid into; a pinhole has no focus. */
export interface View {
  /** Metres. */
  focus?: number;
  pupil: PupilName;
}

/** Numbers that a view keeps for each pixel. */
const WEIGHT = 0;
const LIGHT = 1;
/** The square of the mean channel, for how far samples lie apart. */
const SQUARE = 4;
/** Weight of the samples that were asked whether a pinhole sees the same, and of those for which it does not. */
const ASKED = 5;
const HIDDEN = 6;
/** What of a pixel anything is seen in. */
const COVERED = 7;
const NUMBERS = 8;
/** Every so many samples are asked. */
const ASK_EVERY = 8;

/** Pixels by which rays may lie beside the one that they are drawn for: half of what the two focus distances differ by. */
const REACH = 3;
/** Pixels round the frame that rays are drawn for too, so that those at its edge get all of theirs. */
export const MARGIN = REACH;
export const FIELD = { width: WIDTH + 2 * MARGIN, height: HEIGHT + 2 * MARGIN } as const;
const BAND = 2 * REACH + 1;

/** Which rays a view takes, and from where. */
interface Laid {
  /** Pixels by which a ray through the edge of the lens is shifted. */
  shift: number;
  /** Whether its pupil lets a point of the unit disc through. */
  passes: (x: number, y: number) => boolean;
  /** Share of the whole disc that does. */
  area: number;
  focus: number | undefined;
}

function laid(tracer: Tracer, { focus, pupil }: View): Laid {
  const disc = pupil === 'disc';
  const within = insideOf(pupilOutline(PUPILS[pupil]));
  return {
    focus,
    shift: focus === undefined ? 0 : tracer.shiftAt(focus),
    passes: disc ? () => true : (x, y) => within(x, -y),
    area: disc ? 1 : pupilArea(PUPILS[pupil]),
  };
}

/** Whether a point lies in a convex outline. */
function insideOf(outline: readonly [number, number][]): (x: number, y: number) => boolean {
  const edges = outline.map(([ax, ay], k) => {
    const [bx, by] = outline[(k + 1) % outline.length]!;
    return { ax, ay, dx: bx - ax, dy: by - ay };
  });
  return (x, y) => edges.every(({ ax, ay, dx, dy }) => dx * (y - ay) - dy * (x - ax) >= 0);
}

/** Sums of a band of rows, for each view: {@link NUMBERS} planes. */
export type Band = Float32Array<ArrayBuffer>;

/** Lays the rays of one tracer into views. */
export class LightField {
  private readonly views: Laid[];
  private readonly sums: Float64Array;

  constructor(
    private readonly tracer: Tracer,
    views: readonly View[],
  ) {
    this.views = views.map((view) => laid(tracer, view));
    this.sums = new Float64Array(MATTE_AT + tracer.scene.groups.length);
  }

  /** Traces the rays drawn for one row of the field, `need(x)` of them for each pixel. */
  traceRow(row: number, need: (x: number) => number): Band {
    const { tracer, sums, views } = this;
    const { lensPoint, imagePoint } = tracer;
    const values = new Float64Array(NUMBERS).fill(1);
    const corners = new Corners();
    const band = new Float32Array(views.length * NUMBERS * BAND * WIDTH);
    const y = row - MARGIN;
    for (let x = -MARGIN; x < WIDTH + MARGIN; x++) {
      const count = need(x + MARGIN);
      for (let index = 0; index < count; index++) {
        sums.fill(0);
        tracer.evenSample(x, y, index, sums);
        for (let c = 0; c < 3; c++)
          values[LIGHT + c] = sums[c]! + sums[c + 3]! + sums[c + 6]! + sums[c + 9]! + sums[c + 12]!;
        values[SQUARE] = ((values[LIGHT]! + values[LIGHT + 1]! + values[LIGHT + 2]!) / 3) ** 2;
        values[ASKED] = index % ASK_EVERY === 0 ? 1 : 0;
        values[HIDDEN] = values[ASKED] === 1 && tracer.lastIsHidden() ? 1 : 0;
        values[COVERED] = tracer.lastIsSeen() ? 1 : 0;
        // Pixels that got more rays than their neighbours count no more than they.
        const weight = 1 / count;
        for (let v = 0; v < views.length; v++) {
          const view = views[v]!;
          if (!view.passes(lensPoint.x, lensPoint.y)) continue;
          const px = imagePoint.x + view.shift * lensPoint.x;
          const py = imagePoint.y - view.shift * lensPoint.y - (y - REACH);
          corners.lay(px, py, BAND);
          for (let k = 0; k < corners.count; k++) {
            const w = corners.share[k]! * weight;
            const at = (v * BAND * WIDTH + corners.at[k]!) * NUMBERS;
            for (let i = 0; i < NUMBERS; i++) band[at + i]! += w * values[i]!;
          }
        }
      }
    }
    return band;
  }

  /** Sends the lamps that are seen to the views' pictures, so many samples for each pixel of their images. */
  addLamps(samplesPerPixel: number, pictures: readonly Gathered[]): void {
    const { tracer, views } = this;
    const { lensPoint } = tracer;
    const corners = new Corners();
    const sample: LampSample = { x: 0, y: 0, light: [0, 0, 0], hidden: false };
    for (let lamp = 0; lamp < tracer.lampCount; lamp++) {
      const footprint = Math.max(...views.map(({ focus }) => tracer.lampFootprint(lamp, focus)));
      const samples = Math.ceil(footprint * samplesPerPixel);
      for (let index = 0; index < samples; index++) {
        if (!tracer.lampSample(lamp, index, sample)) continue;
        const { x, y, light, hidden } = sample;
        for (const [v, view] of views.entries()) {
          if (!view.passes(lensPoint.x, lensPoint.y)) continue;
          const weight = 1 / (samples * view.area);
          const { lamps, hiddenLamps } = pictures[v]!;
          const [px, py] = [x + view.shift * lensPoint.x, y - view.shift * lensPoint.y];
          corners.lay(px, py, HEIGHT);
          for (let k = 0; k < corners.count; k++) {
            const w = corners.share[k]! * weight;
            const at = corners.at[k]!;
            for (let c = 0; c < 3; c++) lamps[c]![at]! += w * light[c]!;
            if (hidden) hiddenLamps[at]! += w * Math.max(...light);
          }
        }
      }
    }
  }
}

/** The four pixels that a place shares its light with, by the tent that all pixels are filtered with. */
class Corners {
  count = 0;
  readonly at = [0, 0, 0, 0];
  readonly share = [0, 0, 0, 0];

  lay(x: number, y: number, rows: number): void {
    this.count = 0;
    const [left, top] = [Math.floor(x - 0.5), Math.floor(y - 0.5)];
    for (let v = top; v <= top + 1; v++)
      for (let u = left; u <= left + 1; u++) {
        if (u < 0 || v < 0 || u >= WIDTH || v >= rows) continue;
        this.at[this.count] = v * WIDTH + u;
        this.share[this.count++] = (1 - Math.abs(x - 0.5 - u)) * (1 - Math.abs(y - 0.5 - v));
      }
  }
}

/** What a view has gathered, pixel by pixel. */
export class Gathered {
  private readonly sums = new Float32Array(WIDTH * HEIGHT * NUMBERS);
  readonly lamps = [0, 1, 2].map(() => new Float32Array(WIDTH * HEIGHT));
  /** Light of lamps that a pinhole does not see. */
  readonly hiddenLamps = new Float32Array(WIDTH * HEIGHT);

  /** Adds the band of a row of the field; `index` is the view's number. */
  add(row: number, band: Band, index: number): void {
    const { sums } = this;
    const top = row - MARGIN - REACH;
    const line = WIDTH * NUMBERS;
    for (let v = Math.max(0, -top); v < BAND && top + v < HEIGHT; v++) {
      const from = (index * BAND + v) * line;
      for (let i = 0; i < line; i++) sums[(top + v) * line + i]! += band[from + i]!;
    }
  }

  /** Light per channel, lamps and all. */
  light(): Float32Array[] {
    return this.lamps.map((lamps, c) =>
      lamps.map((lamp, i) => lamp + this.of(i, LIGHT + c) / this.of(i, WEIGHT)),
    );
  }

  /** Share of the samples that a pinhole does not see. */
  hidden(): Float32Array {
    return this.hiddenLamps.map((_, i) => this.of(i, HIDDEN) / Math.max(1e-9, this.of(i, ASKED)));
  }

  /** Share of each pixel in which anything is seen. */
  alpha(): Float32Array {
    return this.hiddenLamps.map((_, i) => this.of(i, COVERED) / this.of(i, WEIGHT));
  }

  /** Mean of a pixel's channels without lamps, and the variance of single samples about it. */
  spread(i: number): { mean: number; variance: number } {
    const weight = this.of(i, WEIGHT);
    const mean = (this.of(i, LIGHT) + this.of(i, LIGHT + 1) + this.of(i, LIGHT + 2)) / (3 * weight);
    return { mean, variance: Math.max(0, this.of(i, SQUARE) / weight - mean * mean) };
  }

  private of(i: number, number: number): number {
    return this.sums[i * NUMBERS + number]!;
  }
}
