import type { Task, TaskRunner } from '../../kernels/runtime/parallel';
import { withScratchBuffers } from '../../kernels/runtime/scratch';
import { allocateShared, type Shared } from '../../kernels/runtime/shared';
import { zipChunk } from './codec';
import { chunkBytes } from './layout';
import { unpackChunk, type PackedChunk } from './unpack';

/** Unpacks chunks in a buffer: `size` bytes at `from` each, samples to `to`. */
export interface UnpackTask {
  buffer: Shared;
  chunks: readonly { chunk: PackedChunk; from: number; size: number; to: number }[];
}

export function unpackChunks({ buffer, chunks }: UnpackTask): void {
  for (const { chunk, from, size, to } of chunks)
    new Uint8Array(buffer, to, chunkBytes(chunk)).set(unpackChunk(new Uint8Array(buffer, from, size), chunk));
}

/**
 * Packs chunks in a buffer as ZIP: `size` bytes of samples at `from` each, in their own place. `sizes` is where their packed
 * sizes go, 4 bytes each; one that would not shrink keeps its size and stays as it is.
 */
export interface PackTask {
  buffer: Shared;
  chunks: readonly { from: number; size: number }[];
  sizes: number;
}

export function packChunks({ buffer, chunks, sizes }: PackTask): void {
  const packedSizes = new Int32Array(buffer, sizes, chunks.length);
  for (const [index, { from, size }] of chunks.entries()) {
    const raw = new Uint8Array(buffer, from, size);
    const packed = zipChunk(raw);
    if (packed.length < size) raw.set(packed);
    packedSizes[index] = Math.min(packed.length, size);
  }
}

declare module '../../kernels/runtime/parallel' {
  interface JobInputs {
    unpackChunks: UnpackTask;
    packChunks: PackTask;
  }
}

/** Samples that one task handles, bytes: enough that messages cost little, few enough to stay near the processor. */
const GROUP_BYTES = 2 ** 20;
/** Below this, threads are not woken. */
const LEAST_PARALLEL_BYTES = 2 ** 22;

/** Chunks that one task handles. */
export interface Group<Item> {
  items: Item[];
  bytes: number;
}

/** Puts consecutive items together to groups of at least {@link GROUP_BYTES}, as far as there are any. */
export function groupsOf<Item>(items: readonly Item[], bytesOf: (item: Item) => number): Group<Item>[] {
  const groups: Group<Item>[] = [];
  for (const item of items) {
    const last = groups.at(-1);
    const bytes = bytesOf(item);
    if (last && last.bytes < GROUP_BYTES) {
      last.items.push(item);
      last.bytes += bytes;
    } else groups.push({ items: [item], bytes });
  }
  return groups;
}

/**
 * Handles groups on all threads of `runner`, or on this one if there is none or it would not be worth it. Each group gets a
 * buffer of its own for the time: `fill` puts its data there and gives the task, `empty` takes the results out. Both run on
 * the calling thread, for one group at a time, in any order of groups.
 */
export async function runGroups<Item, Work extends Task<'unpackChunks'> | Task<'packChunks'>>(
  groups: readonly Group<Item>[],
  bufferBytes: number,
  {
    runner,
    fill,
    empty,
    progress,
  }: {
    runner: TaskRunner | undefined;
    fill: (group: Group<Item>, buffer: Shared) => Work;
    empty: (group: Group<Item>, buffer: Shared, task: Work) => void;
    progress: ((done: number) => void) | undefined;
  },
): Promise<void> {
  const total = groups.reduce((sum, { bytes }) => sum + bytes, 0);
  const threads = total < LEAST_PARALLEL_BYTES ? undefined : runner;
  // One more than threads, so that each finds its next task filled.
  const count = threads ? Math.min(groups.length, threads.threads + 1) : 1;
  const buffers = Array.from({ length: count }, () => allocateShared(bufferBytes));
  const handle = async (group: Group<Item>, index: number): Promise<void> => {
    const buffer = buffers[index]!;
    const task = fill(group, buffer);
    if (threads) await threads.run([task]);
    else if (task.job === 'unpackChunks') unpackChunks(task.input);
    else packChunks(task.input);
    empty(group, buffer, task);
  };
  await withScratchBuffers([...buffers.keys()], groups, handle, { progress });
}
