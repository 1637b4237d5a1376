import { sampleStore, type Channel } from '../image/picture';
import type { Plate } from './plate';
import type { Rectangle } from '../image/rectangle';

/** A plate cut down to a window of its pixels; its frame, by which lengths go, is that of the whole. */
export function cropPlate(plate: Plate, { x, y, width, height }: Rectangle): Plate {
  const { picture } = plate;
  const cut = (channel: Channel): Channel => {
    const samples = sampleStore(channel.type, width * height);
    for (let row = 0; row < height; row++) {
      const from = (y + row) * picture.width + x;
      samples.set(channel.samples.subarray(from, from + width), row * width);
    }
    return { ...channel, samples };
  };
  const channels = new Map([...picture.channels].map(([name, channel]) => [name, cut(channel)]));
  const { xMin, yMin } = picture.dataWindow;
  const dataWindow = {
    xMin: xMin + x,
    yMin: yMin + y,
    xMax: xMin + x + width - 1,
    yMax: yMin + y + height - 1,
  };
  const passes = plate.passes.map((pass) => ({
    ...pass,
    channels: pass.channels.map((one) => ({ ...one, channel: channels.get(one.channel.name)! })),
  }));
  const named = (name: string | undefined) => passes.find((pass) => pass.name === name);
  return {
    ...plate,
    // Begins with the plate's own, so that what is kept of it goes when the plate goes.
    id: `${plate.id} window ${x},${y},${width},${height}`,
    picture: { ...picture, width, height, dataWindow, channels },
    passes,
    beauty: named(plate.beauty.name)!,
    depth: named(plate.depth?.name),
    frame: { ...plate.frame, x: plate.frame.x - x, y: plate.frame.y - y },
    whole: { ...plate.whole, x: plate.whole.x - x, y: plate.whole.y - y },
  };
}
