import * as Comlink from 'comlink';
import { inline } from '../../core/kernels/jobs';
import type { Parallel } from '../../core/kernels/parallel';
import { BenchEngine, type ProgressListener } from '../bench-engine';
import type { Outcome, PixelReading, PlateInfo, PrintRequest, Shown, ShowRequest, Lane } from '../messages';
import { Pool, type Reply } from '../pool';
import type { Printed } from '../../core/print/print';
import type { PackedShot } from '../../core/shot/shot';

/** More threads than this gain little and take memory. */
const MAX_THREADS = 8;

function startThreads(): Parallel {
  const count = Math.min(MAX_THREADS, navigator.hardwareConcurrency || 1);
  if (count <= 1) return inline;
  const workers = Array.from(
    { length: count },
    () => new Worker(new URL('./task.worker.ts', import.meta.url), { type: 'module' }),
  );
  return new Pool(
    workers.map((worker) => ({
      post: (task) => worker.postMessage(task),
      onReply: (listener) => {
        worker.onmessage = ({ data }: MessageEvent<Reply>) => listener(data);
        worker.onerror = (event) => listener({ failed: event.message });
      },
    })),
  );
}

/** A picture for the page: an image bitmap in place of bytes, moved and not copied. */
export type ShownBitmap = Omit<Shown, 'pixels'> & { bitmap: ImageBitmap };
export type PlateCard = Omit<PlateInfo, 'thumbnail'> & { thumbnail: ImageBitmap };

const engine = new BenchEngine(startThreads());

function toBitmap({
  width,
  height,
  pixels,
}: {
  width: number;
  height: number;
  pixels: Uint8ClampedArray<ArrayBuffer>;
}): Promise<ImageBitmap> {
  return createImageBitmap(new ImageData(pixels, width, height));
}

const api = {
  listen: (listener: ProgressListener): void => engine.listen(listener),
  cancel: (lane: Lane): void => engine.cancel(lane),
  closePlate: (id: string): void => engine.closePlate(id),
  readPixel: (x: number, y: number): PixelReading | undefined => engine.readPixel(x, y),

  async openPlate(id: string, name: string, bytes: Uint8Array): Promise<Outcome<PlateCard>> {
    const outcome = await engine.openPlate(id, name, bytes);
    if ('failure' in outcome) return outcome;
    const thumbnail = await toBitmap(outcome.value.thumbnail);
    return Comlink.transfer({ value: { ...outcome.value, thumbnail } }, [thumbnail]);
  },

  async show(request: ShowRequest): Promise<Outcome<ShownBitmap>> {
    const outcome = await engine.show(request);
    if ('failure' in outcome) return outcome;
    const { pixels, ...rest } = outcome.value;
    const bitmap = await toBitmap({ ...rest, pixels });
    return Comlink.transfer({ value: { ...rest, bitmap } }, [bitmap]);
  },

  async print(request: PrintRequest): Promise<Outcome<Printed>> {
    const outcome = await engine.print(request);
    return 'value' in outcome ? Comlink.transfer(outcome, [outcome.value.bytes.buffer]) : outcome;
  },

  async packShot(packed: PackedShot): Promise<Outcome<Uint8Array<ArrayBuffer>>> {
    const outcome = await engine.packShot(packed);
    return 'value' in outcome ? Comlink.transfer(outcome, [outcome.value.buffer]) : outcome;
  },

  unpackShot: (bytes: Uint8Array, file: string): Promise<Outcome<PackedShot>> =>
    engine.unpackShot(bytes, file),
};

export type BenchApi = typeof api;

Comlink.expose(api);
