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
