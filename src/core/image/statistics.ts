import type { Channel } from './picture';

/** How many of a channel's samples are not a number, and how many are infinite; read from the stored samples. */
export function countNonFinite({ samples }: Channel): { nan: number; infinite: number } {
  let nan = 0;
  let infinite = 0;
  if (samples instanceof Uint16Array) {
    for (const pattern of samples) {
      if ((pattern & 0x7c00) !== 0x7c00) continue;
      if (pattern & 0x3ff) nan++;
      else infinite++;
    }
  } else if (samples instanceof Float32Array) {
    for (const value of samples) {
      if (Number.isFinite(value)) continue;
      if (Number.isNaN(value)) nan++;
      else infinite++;
    }
  }
  return { nan, infinite };
}

/** What a channel's samples come to. Not-a-number and infinite samples are counted and left out of the rest. */
export interface ChannelStatistics {
  min: number;
  max: number;
  mean: number;
  nan: number;
  infinite: number;
}

export function channelStatistics(samples: Float32Array): ChannelStatistics {
  let min = Infinity;
  let max = -Infinity;
  let sum = 0;
  let nan = 0;
  let infinite = 0;
  for (const value of samples) {
    if (Number.isFinite(value)) {
      if (value < min) min = value;
      if (value > max) max = value;
      sum += value;
    } else if (Number.isNaN(value)) nan++;
    else infinite++;
  }
  const count = samples.length - nan - infinite;
  return count ? { min, max, mean: sum / count, nan, infinite } : { min: 0, max: 0, mean: 0, nan, infinite };
}
