import { ContentCache } from '../core/light/cache';
import { evaluate, type Evaluation } from '../core/bench/evaluate';
import { evaluateRegion } from '../core/bench/evaluate-region';
import type { Rgb } from '../core/image/rgb';
import { makePlate, scaledFrame, type Plate } from '../core/light/plate';
import { cutRegion } from '../core/light/region';
import type { Rectangle } from '../core/image/rectangle';
import type { StationContext } from '../core/light/station';
import { BokeluxError, CancelledError, SettingError } from '../core/errors';
import { readPassFiles } from '../core/formats/pass-files';
import { greyImage, type GreyImage } from '../core/image/grey-image';
import { histogramOf, type Histogram } from '../core/image/histogram';
import { mergePictures } from '../core/image/merge';
import { holdsLight } from '../core/image/passes';
import { pictureBytes } from '../core/image/picture';
import { isComponent, type Role } from '../core/image/roles';
import { countNonFinite } from '../core/image/statistics';
import { kernelsOn, type Kernels } from '../core/kernels';
import type { TaskRunner } from '../core/kernels/runtime/parallel';
import type { Look } from '../core/look/look';
import { cameraOfFile } from '../core/optics/file-camera';
import {
  depthHistogram,
  depthPicture,
  depthWarnings,
  distanceAt,
  shareAt,
  type DepthHistogram,
} from '../core/stations/focus/depth';
import { blurRadius } from '../core/stations/focus/run';
import { print, type Printed } from '../core/print/print';
import { packShot, unpackShot, type PackedShot } from '../core/shot/shot';
import type {
  DepthSurvey,
  Failure,
  Lane,
  Outcome,
  PixelReading,
  PlateInfo,
  PupilPictures,
  PrintRequest,
  Shown,
  ShowRequest,
  SourceFile,
  Thumbnail,
} from './messages';
import { thresholdFor } from '../core/stations/veil/feed';
import { kernelProfile, type KernelProfile } from '../core/stations/veil/kernel-profile';
import { pupilPictures } from './pupil-view';
import {
  isPlateSubject,
  greyThumbnail,
  paintGrain,
  paintEvaluated,
  paintPlateSubject,
  passThumbnail,
  type Painted,
} from './subjects';

/** Told how far the work of a lane is. */
export type ProgressListener = (lane: Lane, done: number) => void;

/** Pixels around a place that are asked for its distance. */
const PICK_RADIUS = 3;
const THUMBNAIL_WIDTH = 296;
const PASS_THUMBNAIL_WIDTH = 96;
/** Pixels across at which what needs no detail is computed. */
const PROFILE_WIDTH = 480;
const IMAGE_THUMBNAIL_WIDTH = 56;
const DEPTH_PICTURE_WIDTH = 592;
/** What the caches may keep: several full-size stages of a 4K picture. */
const CACHE_BYTES = 1024 ** 3;

/**
 * The core behind a message boundary: holds the open plates and caches, computes what is asked for, gives up what is
 * outdated. It knows neither browser nor Node; a worker wraps it.
 */
export class BenchEngine {
  private readonly plates = new Map<string, Plate>();
  private readonly images = new Map<string, GreyImage>();
  private readonly cache = new ContentCache(CACHE_BYTES);
  private readonly kernels: Kernels;
  private readonly running = new Map<Lane, AbortController>();
  private shown: { plate: Plate; look: Look; rgb: Rgb; width: number; height: number } | undefined;
  /** The part of it that was computed by itself since. */
  private shownRegion: (NonNullable<typeof this.shown> & { region: Rectangle }) | undefined;
  private listener: ProgressListener | undefined;

  constructor(parallel: TaskRunner) {
    this.kernels = kernelsOn(parallel);
  }

  listen(listener: ProgressListener): void {
    this.listener = listener;
  }

  /** Opens a plate from its files: one with all passes, or one for each. `roles` corrects what the names tell. */
  openPlate(
    id: string,
    name: string,
    files: readonly SourceFile[],
    roles: Readonly<Record<string, Role>> = {},
  ): Promise<Outcome<PlateInfo>> {
    return settle(async () => {
      const picture = mergePictures(await readPassFiles(files));
      return this.install(makePlate(id, name, picture, roles));
    });
  }

  /** Reads a plate's passes anew under other roles. */
  setRoles(id: string, roles: Readonly<Record<string, Role>>): Promise<Outcome<PlateInfo>> {
    return settle(() => {
      const { name, picture } = this.plateOf(id);
      return this.install(makePlate(id, name, picture, roles));
    });
  }

  private install(plate: Plate): PlateInfo {
    // A shot that is opened again may bring another file under the same id.
    this.cache.drop(`${plate.id} `);
    this.plates.set(plate.id, plate);
    return plateInfo(plate);
  }

  /** Every pass as a small picture. */
  thumbnails(id: string): Promise<Outcome<Record<string, Thumbnail>>> {
    return settle(() => {
      const plate = this.plateOf(id);
      return Object.fromEntries(
        plate.passes.map((pass) => [pass.name, passThumbnail(plate, pass, PASS_THUMBNAIL_WIDTH)]),
      );
    });
  }

  /** How the light that was shown last is spread over stops. */
  histogram(): Histogram | undefined {
    return this.shown && histogramOf(this.shown.rgb);
  }

  /** Opens an image for looks to name; `key` tells it from others that had its name. */
  openImage(key: string, { name, read }: SourceFile): Promise<Outcome<Thumbnail>> {
    return settle(async () => {
      const image = greyImage(key, name, mergePictures(await readPassFiles([{ name, read }])));
      this.images.set(name, image);
      return greyThumbnail(image, IMAGE_THUMBNAIL_WIDTH);
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
      const { look, subject, scale, draft } = request;
      const plate = this.plateOf(request.plate);
      const context = this.contextFor(plate, signal, progress);
      let result: Evaluation | undefined;
      let painted: Painted;
      if (isPlateSubject(subject)) painted = await paintPlateSubject(subject, request, context);
      else {
        const behind = subject.kind === 'behind' ? subject.station : undefined;
        const separate = subject.kind === 'separation';
        const asked = { ...context, separate, draft };
        if (request.region) return this.showRegion(request, request.region, asked, started);
        result = await evaluate(look, asked, { scale, behind });
        painted =
          subject.kind === 'grain'
            ? await paintGrain(result.light, request, context)
            : paintEvaluated(result, request);
      }
      const { width, height, rgb, pixels, report } = painted;
      if (request.lane === 'view') {
        this.shown = { plate, look, rgb, width, height };
        this.shownRegion = undefined;
      }
      const { veil: feed, ...own } = result?.feeds ?? {};
      const cleaned = result?.cleaned;
      return {
        width,
        height,
        scale,
        pixels,
        accounts: result?.accounts ?? {},
        feed: feed && { pixels: feed.pixels, light: feed.light },
        ownFeeds: Object.fromEntries(
          Object.entries(own).map(([name, { pixels: fed, light }]) => [name, { pixels: fed, light }]),
        ),
        touched: cleaned && { despiked: cleaned.despiked, clamped: cleaned.clamped },
        report,
        milliseconds: performance.now() - started,
      };
    });
  }

  private readonly imageOf = (name: string): GreyImage | undefined => this.images.get(name);

  /** Computes a region by itself. What is told of the whole picture, such as where the light went, it does not tell. */
  private async showRegion(
    request: ShowRequest,
    region: Rectangle,
    context: StationContext,
    started: number,
  ): Promise<Shown> {
    const { look, subject } = request;
    const behind = subject.kind === 'behind' ? subject.station : undefined;
    const light = await evaluateRegion(look, context, region, behind);
    const painted = paintEvaluated({ light, accounts: {}, feeds: {}, cleaned: undefined }, request);
    const { width, height, rgb, pixels, report } = painted;
    this.shownRegion = { plate: context.plate, look, rgb, width, height, region };
    return {
      ...{ width, height, scale: 1, pixels, report, region },
      ...{ accounts: {}, feed: undefined, ownFeeds: {}, touched: undefined },
      milliseconds: performance.now() - started,
    };
  }

  private contextFor(plate: Plate, signal: AbortSignal, progress: (done: number) => void): StationContext {
    return {
      plate,
      cache: this.cache,
      kernels: this.kernels,
      signal,
      progress,
      backdrop: (id) => this.plates.get(id),
      image: this.imageOf,
    };
  }

  /** Reads what was shown last under pixel (x, y) of the full-size picture. */
  readPixel(x: number, y: number): PixelReading | undefined {
    const { region } = this.shownRegion ?? {};
    const inRegion =
      region && x >= region.x && y >= region.y && x < region.x + region.width && y < region.y + region.height;
    const shown = inRegion ? this.shownRegion : this.shown;
    if (!shown) return undefined;
    const { picture } = shown.plate;
    if (x < 0 || y < 0 || x >= picture.width || y >= picture.height) return undefined;
    const extent = inRegion ? region : { x: 0, y: 0, width: picture.width, height: picture.height };
    const column = Math.min(shown.width - 1, Math.floor(((x - extent.x) * shown.width) / extent.width));
    const row = Math.min(shown.height - 1, Math.floor(((y - extent.y) * shown.height) / extent.height));
    const at = row * shown.width + column;
    const depth = distanceAt(shown.plate, shown.look, x, y);
    const blurred = depth !== undefined && shown.look.focus.on;
    return {
      rgb: [shown.rgb[0][at]!, shown.rgb[1][at]!, shown.rgb[2][at]!],
      depth,
      blur: depth === undefined ? undefined : blurred ? 2 * blurRadius(shown.look, shown.plate, 1, depth) : 0,
    };
  }

  /**
   * The distance of what is at a place of the full-size picture: the median of a small disc, so that edges do no harm.
   * For a normalised depth, also the share of the way from near to far.
   */
  pickDistance(id: string, look: Look, x: number, y: number): Outcome<{ distance: number; share?: number }> {
    try {
      const plate = this.plateOf(id);
      const found: { distance: number; x: number; y: number }[] = [];
      for (let dy = -PICK_RADIUS; dy <= PICK_RADIUS; dy++)
        for (let dx = -PICK_RADIUS; dx <= PICK_RADIUS; dx++) {
          if (dx * dx + dy * dy > PICK_RADIUS * PICK_RADIUS) continue;
          const distance = distanceAt(plate, look, x + dx, y + dy);
          if (distance !== undefined) found.push({ distance, x: x + dx, y: y + dy });
        }
      if (found.length === 0)
        throw plate.depth
          ? new SettingError('this place lies outside the picture', { todo: 'Click on the picture itself' })
          : new SettingError(`${plate.name} has no depth`, { todo: 'Bring in a depth pass' });
      const middle = found.sort((a, b) => a.distance - b.distance)[found.length >> 1]!;
      const share = shareAt(plate, look, middle.x, middle.y);
      return { value: { distance: middle.distance, ...(share !== undefined && { share }) } };
    } catch (error) {
      return { failure: describeFailure(error) };
    }
  }

  /** How a plate's distances are spread; undefined without depth. */
  depthHistogram(id: string, look: Look): DepthHistogram | undefined {
    const plate = this.plates.get(id);
    try {
      return plate && depthHistogram(plate, look);
    } catch (error) {
      if (error instanceof SettingError) return undefined;
      throw error;
    }
  }

  /** A plate's depth as a look reads it: a picture (without depth, none) and what may be wrong with it. */
  depthSurvey(id: string, look: Look): DepthSurvey {
    const plate = this.plates.get(id);
    if (!plate) return { picture: undefined, warnings: [] };
    const warnings = depthWarnings(plate, look);
    try {
      return { picture: depthPicture(plate, look, DEPTH_PICTURE_WIDTH), warnings };
    } catch (error) {
      if (error instanceof SettingError) return { picture: undefined, warnings };
      throw error;
    }
  }

  /** A look's pupil and the image of a point through it. */
  pupilPictures(look: Look): Promise<Outcome<PupilPictures>> {
    return settle(() => pupilPictures(look, { image: this.imageOf }, this.kernels.parallel));
  }

  /** How the veil of a look falls off with the distance, on a plate's frame. */
  kernelProfile(id: string, look: Look): Promise<Outcome<KernelProfile>> {
    return settle(() => {
      const plate = this.plateOf(id);
      const scale = Math.min(1, PROFILE_WIDTH / plate.frame.width);
      const { width, height } = scaledFrame(plate, scale);
      const size = { width: Math.round(width), height: Math.round(height) };
      const image = this.imageOf;
      return kernelProfile(look, size, scale, { cache: this.cache, parallel: this.kernels.parallel, image });
    });
  }

  /** The threshold over which so large a share of a plate's pixels feeds the veil. */
  feedThreshold(id: string, look: Look, share: number): Promise<Outcome<number>> {
    return settle(async () => {
      const plate = this.plateOf(id);
      const scale = Math.min(1, PROFILE_WIDTH / plate.frame.width);
      const never = new AbortController().signal;
      const context = this.contextFor(plate, never, () => undefined);
      const { light } = await evaluate({ ...look, veil: { ...look.veil, on: false } }, context, {
        scale,
        behind: 'veil',
      });
      return thresholdFor(light, look.veil.feed, share);
    });
  }

  print(request: PrintRequest): Promise<Outcome<Printed>> {
    return this.inLane('print', async (signal, progress) => {
      const plate = this.plateOf(request.plate);
      const computing = (done: number): void => progress(done * 0.5);
      const context = this.contextFor(plate, signal, computing);
      const { look, format, region } = request;
      const separate = format.kind === 'exr' && format.separations;
      const { light } = await evaluate(look, { ...context, separate }, { scale: 1 });
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

function plateInfo(plate: Plate): PlateInfo {
  const { picture } = plate;
  let nan = 0;
  let infinite = 0;
  for (const channel of picture.channels.values()) {
    const odd = countNonFinite(channel);
    nan += odd.nan;
    infinite += odd.infinite;
  }
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
      role: pass.role,
      channels: pass.channels.map(({ channel }) => channel.name),
      light: holdsLight(pass),
      component: pass !== plate.beauty && holdsLight(pass) && isComponent(pass.role),
    })),
    beauty: plate.beauty.name,
    depth: plate.depth?.name,
    nan,
    infinite,
    bytes: pictureBytes(picture),
    warnings: picture.warnings,
    thumbnail: passThumbnail(plate, plate.beauty, THUMBNAIL_WIDTH),
    frame: plate.frame,
    camera: cameraOfFile(picture.attributes),
    range: picture.range,
  };
}
