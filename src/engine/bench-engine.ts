import { ContentCache } from '../core/bench/cache';
import { evaluate, type Evaluation } from '../core/bench/evaluate';
import type { Rgb } from '../core/bench/light';
import { makePlate, passLight, type Plate } from '../core/bench/plate';
import { cutRegion } from '../core/bench/region';
import { BokeluxError, CancelledError, SettingError } from '../core/errors';
import { displayBytes } from '../core/color/display';
import { LUMINANCE } from '../core/color/primaries';
import { viewNamed } from '../core/color/view';
import { openPicture } from '../core/formats/open';
import { holdsLight } from '../core/image/passes';
import { channelFloats, pictureBytes } from '../core/image/picture';
import { countNonFinite } from '../core/image/statistics';
import { referenceConvolution, type ConvolutionKernel } from '../core/kernels/convolve';
import type { Parallel } from '../core/kernels/parallel';
import { print, type Printed } from '../core/print/print';
import { packShot, unpackShot, type PackedShot } from '../core/shot/shot';
import { filmView } from '../core/stations/film/run';
import type {
  Failure,
  Lane,
  Outcome,
  PixelReading,
  PlateInfo,
  PrintRequest,
  Shown,
  ShowRequest,
} from './messages';

/** Told how far the work of a lane is. */
export type ProgressListener = (lane: Lane, done: number) => void;

const THUMBNAIL_WIDTH = 296;
/** What the caches may keep: several full-size stages of a 4K picture. */
const CACHE_BYTES = 1024 ** 3;

/**
 * The core behind a message boundary: holds the open plates and caches, computes what is asked for, gives up what is
 * outdated. It knows neither browser nor Node; a worker wraps it.
 */
export class BenchEngine {
  private readonly plates = new Map<string, Plate>();
  private readonly cache = new ContentCache(CACHE_BYTES);
  private readonly convolution: ConvolutionKernel;
  private readonly running = new Map<Lane, AbortController>();
  private shown: { plate: Plate; rgb: Rgb; width: number; height: number } | undefined;
  private listener: ProgressListener | undefined;

  constructor(parallel: Parallel) {
    this.convolution = referenceConvolution(parallel);
  }

  listen(listener: ProgressListener): void {
    this.listener = listener;
  }

  openPlate(id: string, name: string, bytes: Uint8Array): Promise<Outcome<PlateInfo>> {
    return settle(() => {
      const plate = makePlate(id, name, openPicture(bytes, name));
      // A shot that is opened again may bring another file under the same id.
      this.cache.drop(`${id} `);
      this.plates.set(id, plate);
      return plateInfo(plate);
    });
  }

  closePlate(id: string): void {
    this.plates.delete(id);
    this.cache.drop(`${id} `);
    if (this.shown?.plate.id === id) this.shown = undefined;
  }

  /** Gives up what a lane is computing. */
  cancel(lane: Lane): void {
    this.running.get(lane)?.abort();
  }

  show(request: ShowRequest): Promise<Outcome<Shown>> {
    return this.inLane(request.lane, async (signal, progress) => {
      const started = performance.now();
      const { look, subject, scale } = request;
      const plate = this.plateOf(request.plate);
      const context = { plate, cache: this.cache, convolution: this.convolution, signal, progress };
      const behind = subject.kind === 'behind' ? subject.station : undefined;
      const result = await evaluate(look, context, { scale, behind });
      const { width, height } = result.light;
      const rgb = subjectLight(result, request);
      const pixels =
        subject.kind === 'feed'
          ? feedPixels(result, request)
          : displayBytes(filmView(look), rgb, 2 ** request.viewExposure);
      if (request.lane === 'view') this.shown = { plate, rgb, width, height };
      const feed = result.feeds.veil && { pixels: result.feeds.veil.pixels, light: result.feeds.veil.light };
      return {
        width,
        height,
        scale,
        pixels,
        accounts: result.accounts,
        feed,
        milliseconds: performance.now() - started,
      };
    });
  }

  /** Reads what was shown last under pixel (x, y) of the full-size picture. */
  readPixel(x: number, y: number): PixelReading | undefined {
    const { shown } = this;
    if (!shown) return undefined;
    const { picture, depth } = shown.plate;
    if (x < 0 || y < 0 || x >= picture.width || y >= picture.height) return undefined;
    const column = Math.min(shown.width - 1, Math.floor((x * shown.width) / picture.width));
    const row = Math.min(shown.height - 1, Math.floor((y * shown.height) / picture.height));
    const at = row * shown.width + column;
    const channel = depth?.channels[0]?.channel;
    return {
      rgb: [shown.rgb[0][at]!, shown.rgb[1][at]!, shown.rgb[2][at]!],
      depth:
        channel &&
        channelFloats({
          ...channel,
          samples: channel.samples.subarray(y * picture.width + x, y * picture.width + x + 1),
        })[0],
    };
  }

  print(request: PrintRequest): Promise<Outcome<Printed>> {
    return this.inLane('print', async (signal, progress) => {
      const plate = this.plateOf(request.plate);
      const computing = (done: number): void => progress(done * 0.5);
      const context = {
        plate,
        cache: this.cache,
        convolution: this.convolution,
        signal,
        progress: computing,
      };
      const { light } = await evaluate(request.look, context, { scale: 1 });
      const { look, format, region } = request;
      await breathe();
      if (signal.aborted) throw new CancelledError();
      const writing = (done: number): void => progress(0.5 + done * 0.5);
      return print({
        plate,
        look,
        light: region ? cutRegion(light, region) : light,
        format,
        region,
        progress: writing,
      });
    });
  }

  packShot(packed: PackedShot): Promise<Outcome<Uint8Array<ArrayBuffer>>> {
    return settle(() => packShot(packed));
  }

  unpackShot(bytes: Uint8Array, file: string): Promise<Outcome<PackedShot>> {
    return settle(() => unpackShot(bytes, file));
  }

  private plateOf(id: string): Plate {
    const plate = this.plates.get(id);
    if (!plate) throw new SettingError('the plate is not open', { where: id, todo: 'Bring it in again' });
    return plate;
  }

  private inLane<T>(
    lane: Lane,
    work: (signal: AbortSignal, progress: (done: number) => void) => Promise<T>,
  ): Promise<Outcome<T>> {
    this.cancel(lane);
    const control = new AbortController();
    this.running.set(lane, control);
    return settle(() => work(control.signal, (done) => this.listener?.(lane, done)));
  }
}

/** Lets waiting messages in. */
function breathe(): Promise<void> {
  return new Promise((resolve) => setTimeout(resolve, 0));
}

async function settle<T>(work: () => T | Promise<T>): Promise<Outcome<T>> {
  try {
    return { value: await work() };
  } catch (error) {
    return { failure: describeFailure(error) };
  }
}

/** An error in the form in which it crosses a message boundary. */
export function describeFailure(error: unknown): Failure {
  if (error instanceof BokeluxError) {
    const kind =
      error instanceof CancelledError ? 'cancelled' : error instanceof SettingError ? 'setting' : 'input';
    return { kind, what: error.message, where: error.where, todo: error.todo };
  }
  const memory = error instanceof RangeError && /alloc|length|memory/i.test(error.message);
  if (memory) {
    return {
      kind: 'input',
      what: 'there is not enough memory for this',
      where: undefined,
      todo: 'Close other plates or take a smaller one',
    };
  }
  return {
    kind: 'fault',
    what: error instanceof Error ? error.message : String(error),
    where: undefined,
    todo: undefined,
  };
}

function subjectLight(result: Evaluation, { subject }: ShowRequest): Rgb {
  if (subject.kind !== 'separation') return result.light.total;
  const found = result.light.separations.find((separation) => separation.name === subject.name);
  if (found) return found.rgb;
  const black = new Float32Array(result.light.width * result.light.height);
  return [black, black, black];
}

/** Amber of the interface, as display bytes: what feeds is painted with it. */
const FEED_COLOUR = [232, 163, 61] as const;

function feedPixels(result: Evaluation, { look, viewExposure }: ShowRequest): Uint8ClampedArray<ArrayBuffer> {
  const [r, g, b] = result.light.total;
  const grey = r.map((value, i) => LUMINANCE[0] * value + LUMINANCE[1] * g[i]! + LUMINANCE[2] * b[i]!);
  const pixels = displayBytes(filmView(look), [grey, grey, grey], 2 ** viewExposure);
  const weight = result.feeds.veil?.weight;
  for (let i = 0, at = 0; i < grey.length; i++, at += 4) {
    const w = weight?.[i] ?? 0;
    for (let c = 0; c < 3; c++) pixels[at + c] = 0.45 * pixels[at + c]! * (1 - w) + FEED_COLOUR[c]! * w;
  }
  return pixels;
}

function plateInfo(plate: Plate): PlateInfo {
  const { picture } = plate;
  let nan = 0;
  let infinite = 0;
  for (const channel of picture.channels.values()) {
    const odd = countNonFinite(channel);
    nan += odd.nan;
    infinite += odd.infinite;
  }
  const scale = Math.min(1, THUMBNAIL_WIDTH / picture.width);
  const { rgb } = passLight(plate, plate.beauty, scale);
  const width = Math.max(1, Math.round(picture.width * scale));
  return {
    id: plate.id,
    name: plate.name,
    width: picture.width,
    height: picture.height,
    compression: picture.compression,
    sampleType: plate.sampleType,
    passes: plate.passes.map((pass) => ({
      name: pass.name,
      kind: pass.kind,
      channels: pass.channels.map((member) => member.label),
      light: holdsLight(pass),
    })),
    beauty: plate.beauty.name,
    depth: plate.depth?.name,
    nan,
    infinite,
    bytes: pictureBytes(picture),
    warnings: picture.warnings,
    thumbnail: { width, height: rgb[0].length / width, pixels: displayBytes(viewNamed('filmic'), rgb, 1) },
  };
}
