import type { SceneField } from '../../core/formats/lights/gltf';
import type { SceneClock } from '../../core/formats/lights/gltf-animation';
import type { SpaceLights } from '../../core/formats/lights/space-light';
import * as Comlink from 'comlink';
import type { Histogram } from '../../core/image/histogram';
import type { Triple } from '../../core/color/primaries';
import type { Rectangle } from '../../core/image/rectangle';
import type { Circle } from '../../core/measure/queries';
import type { ShownLamp, Side } from '../readings';
import type { RgbaImage } from '../../core/image/rgba';
import type { Role } from '../../core/image/roles';
import { canShareMemory } from '../../core/kernels/runtime/shared';
import { serialRunner } from '../../core/jobs';
import type { TaskRunner } from '../../core/kernels/runtime/parallel';
import { BenchEngine } from '../bench-engine';
import type { ProgressListener } from '../lanes';
import type {
  Lane,
  Outcome,
  PixelReading,
  PlateInfo,
  PrintRequest,
  QueryRequest,
  Shown,
  ShowRequest,
  StackPart,
} from '../messages';
import { Pool, type Reply, type TaskThread } from '../pool';
import type { Camera } from '../../core/optics/camera';
import { openZip, type OpenZip } from './zip';
import { holdLock, whenReleased } from './life-lock';
import type { HoldRequest } from './task.worker';
import type { Printed } from '../../core/print/print';
import type { RandomAccess } from '../../core/shot/archive';
import { filesOf, type PlateFile, type Shot } from '../../core/shot/shot';
import { settle } from '../outcome';

/** More threads than this gain little and take memory. */
const MAX_THREADS = 8;

function startThread(): TaskThread {
  const worker = new Worker(new URL('./task.worker.ts', import.meta.url), { type: 'module' });
  let reply: (reply: Reply) => void = () => undefined;
  let ended: () => void = () => undefined;
  worker.onmessage = ({ data }: MessageEvent<Reply | { held: string }>) => {
    if ('held' in data) whenReleased(data.held, () => ended());
    else reply(data);
  };
  worker.onerror = (event) => reply({ failed: event.message });
  worker.postMessage({ hold: `thread ${crypto.randomUUID()}` } satisfies HoldRequest);
  return {
    post: (task) => worker.postMessage(task),
    onReply: (listener) => (reply = listener),
    onEnd: (listener) => (ended = listener),
  };
}

function startThreads(): TaskRunner {
  const count = Math.min(MAX_THREADS, navigator.hardwareConcurrency || 1);
  if (count <= 1 || !canShareMemory) return serialRunner;
  return new Pool(Array.from({ length: count }, startThread), startThread);
}

/** A picture for the page: an image bitmap in place of bytes, moved and not copied. */
export type ShownBitmap = Omit<Shown, 'pixels'> & { bitmap: ImageBitmap };
export type OpenedPlate = Omit<PlateInfo, 'thumbnail'> & { thumbnail: ImageBitmap };

/** A file as the page hands it over: a blob is passed by reference, so that its bytes are read here alone. */
export interface SourceBlob {
  name: string;
  /** The older render that it belongs to, for people. */
  older?: string;
  blob: Blob;
}

/** A shot with its files as blobs. */
export interface ShotBlobs {
  shot: Shot;
  files: Map<string, Blob>;
}

const engine = new BenchEngine(startThreads());
const bytesOf = async (blob: Blob): Promise<Uint8Array<ArrayBuffer>> =>
  new Uint8Array(await blob.arrayBuffer());

function toBitmap(
  { width, height, pixels }: RgbaImage,
  colorSpace: PredefinedColorSpace = 'srgb',
): Promise<ImageBitmap> {
  return createImageBitmap(new ImageData(pixels, width, height, { colorSpace }));
}

async function withBitmap(outcome: Outcome<PlateInfo>): Promise<Outcome<OpenedPlate>> {
  if ('failure' in outcome) return outcome;
  const thumbnail = await toBitmap(outcome.value.thumbnail);
  return Comlink.transfer({ value: { ...outcome.value, thumbnail } }, [thumbnail]);
}

const isRgba = (value: unknown): value is RgbaImage =>
  typeof value === 'object' && value !== null && 'pixels' in value && 'width' in value;

/** A query's result with the pictures in it as image bitmaps, which are moved and not copied. */
async function transferBitmaps(value: unknown): Promise<Outcome<unknown>> {
  if (typeof value !== 'object' || value === null) return { value };
  const entries: [string, unknown][] = [];
  for (const [name, part] of Object.entries(value))
    entries.push([name, isRgba(part) ? await toBitmap(part) : part]);
  const bitmaps = entries.flatMap(([, part]) => (part instanceof ImageBitmap ? [part] : []));
  return Comlink.transfer({ value: Object.fromEntries(entries) }, bitmaps);
}

const zips = new Map<string, OpenZip>();

const api = {
  /** Holds a lock as long as this worker lives. */
  holdLock: (name: string): Promise<void> => holdLock(name),
  listen: (listener: ProgressListener, notice: (text: string) => void): void =>
    engine.listen(listener, notice),
  cancel: (lane: Lane): void => engine.cancel(lane),
  closePlate: (id: string): void => engine.closePlate(id),
  closeImage: (key: string): void => engine.closeImage(key),
  readPixel: (x: number, y: number): PixelReading | undefined => engine.readPixel(x, y),
  async ask(request: QueryRequest): Promise<Outcome<unknown>> {
    const outcome = await engine.ask(request);
    return 'failure' in outcome ? outcome : transferBitmaps(outcome.value);
  },
  histogram: (): Histogram | undefined => engine.histogram(),
  async scopes(side?: Side): Promise<Outcome<unknown>> {
    return transferBitmaps(engine.scopes(side));
  },
  readPatch: (side: Side, part: Rectangle): Triple | undefined => engine.readPatch(side, part),
  readLamp: (circle: Circle): ShownLamp | undefined => engine.readLamp(circle),
  async openPlate(
    id: string,
    name: string,
    files: SourceBlob[],
    roles: Record<string, Role>,
    frameNumber?: number,
  ): Promise<Outcome<OpenedPlate>> {
    const sources = files.map(({ name, older, blob }) => ({ name, older, read: () => bytesOf(blob) }));
    return withBitmap(await engine.openPlate(id, name, sources, roles, frameNumber));
  },
  stackPlate(id: string, base: string, parts: StackPart[]): Promise<Outcome<null>> {
    return engine.stackPlate(id, base, parts);
  },
  async setRoles(id: string, roles: Record<string, Role>): Promise<Outcome<OpenedPlate>> {
    return withBitmap(await engine.setRoles(id, roles));
  },
  async openImage(key: string, name: string, blob: Blob): Promise<Outcome<ImageBitmap>> {
    const outcome = await engine.openImage(key, { name, read: () => bytesOf(blob) });
    if ('failure' in outcome) return outcome;
    const bitmap = await toBitmap(outcome.value);
    return Comlink.transfer({ value: bitmap }, [bitmap]);
  },
  async thumbnails(id: string): Promise<Outcome<Record<string, ImageBitmap>>> {
    const outcome = await engine.thumbnails(id);
    if ('failure' in outcome) return outcome;
    const bitmaps: [string, ImageBitmap][] = [];
    for (const [name, picture] of Object.entries(outcome.value))
      bitmaps.push([name, await toBitmap(picture)]);
    return Comlink.transfer(
      { value: Object.fromEntries(bitmaps) },
      bitmaps.map(([, bitmap]) => bitmap),
    );
  },
  async show(request: ShowRequest): Promise<Outcome<ShownBitmap>> {
    const outcome = await engine.show(request);
    if ('failure' in outcome) return outcome;
    const { pixels, ...rest } = outcome.value;
    const bitmap = await toBitmap({ ...rest, pixels }, rest.colourSpace);
    return Comlink.transfer({ value: { ...rest, bitmap } }, [bitmap]);
  },
  async print(request: PrintRequest): Promise<Outcome<Printed>> {
    const outcome = await engine.print(request);
    return 'value' in outcome ? Comlink.transfer(outcome, [outcome.value.bytes.buffer]) : outcome;
  },
  async readLights(file: Blob, name: string, clock: SceneClock): Promise<Outcome<SpaceLights>> {
    return engine.readLights(await bytesOf(file), name, clock);
  },
  async readFields(file: Blob, name: string, clock: SceneClock): Promise<Outcome<SceneField[]>> {
    return engine.readFields(await bytesOf(file), name, clock);
  },
  async readCamera(file: Blob): Promise<Outcome<Partial<Camera>>> {
    return engine.readCamera(await bytesOf(file));
  },
  /** Begins an archive, in a file that the person chose or as a blob; gives what it is called by. */
  async openZip(into?: FileSystemFileHandle): Promise<Outcome<string>> {
    return settle(async () => {
      const id = crypto.randomUUID();
      zips.set(id, await openZip(into));
      return id;
    });
  },
  async addToZip(id: string, name: string, bytes: Uint8Array<ArrayBuffer>): Promise<Outcome<null>> {
    return settle(async () => {
      await zips.get(id)!.add(name, bytes);
      return null;
    });
  },
  /** Ends an archive; gives it, if it is a blob. */
  async closeZip(id: string): Promise<Outcome<Blob | null>> {
    return settle(async () => {
      const zip = zips.get(id)!;
      zips.delete(id);
      return zip.close();
    });
  },
  /** Packs a shot into a file that the person chose, or as a blob. */
  async packShot({ shot, files }: ShotBlobs, into?: FileSystemFileHandle): Promise<Outcome<Blob | null>> {
    const read = ({ id }: PlateFile): Promise<Blob | undefined> => Promise.resolve(files.get(id));
    if (into) return engine.writeShot(shot, read, await into.createWritable());
    const { readable, writable } = new TransformStream<Uint8Array>();
    const packed = new Response(readable as ReadableStream<Uint8Array<ArrayBuffer>>).blob();
    const writing = engine.writeShot(shot, read, writable);
    const outcome = await writing;
    return 'failure' in outcome ? outcome : { value: await packed };
  },
  async unpackShot(file: Blob, name: string): Promise<Outcome<ShotBlobs>> {
    const opened = await engine.openShot(blobSource(file), name);
    if ('failure' in opened) return opened;
    return settle(async () => {
      const { shot, read, locate } = opened.value;
      const files = new Map<string, Blob>();
      for (const { id } of filesOf(shot)) {
        // What is stored as it is stays where it is.
        const place = await locate(id);
        files.set(
          id,
          place ? file.slice(place.offset, place.offset + place.size) : new Blob([await read(id)]),
        );
      }
      return { shot, files };
    });
  },
};

const blobSource = (blob: Blob): RandomAccess => ({
  size: blob.size,
  read: async (offset, length) => bytesOf(blob.slice(offset, offset + length)),
});

export type BenchApi = typeof api;

Comlink.expose(api);
