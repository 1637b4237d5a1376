/** How the samples of an OpenEXR chunk lie: what the host writes before a chunk is unpacked. */

/** Sample types by the number that OpenEXR gives them. */
export const UINT: i32 = 0;
export const HALF: i32 = 1;

@unmanaged
export class Chunk {
  /** The first line, and how many. */
  y: i32;
  lines: i32;
  channels: i32;
}

/** Channels follow their chunk in the order of the file. */
@unmanaged
export class Channel {
  type: i32;
  ySampling: i32;
  /** Samples in a row, and rows in the chunk. */
  columns: i32;
  rows: i32;
  /** Table of 65536 halves that B44 applies to what it unpacks, or 0. */
  table: usize;
  /** Where the next row is read or written, while rows are put in order. */
  next: usize;
}

export function channelOf(chunk: Chunk, index: i32): Channel {
  return changetype<Channel>(
    changetype<usize>(chunk) + offsetof<Chunk>() + <usize>index * offsetof<Channel>(),
  );
}

export function bytesPerSample(channel: Channel): i32 {
  return channel.type === HALF ? 2 : 4;
}

/** Whether a channel has samples in a line. */
export function hasLine(channel: Channel, line: i32): bool {
  return line % channel.ySampling === 0;
}
