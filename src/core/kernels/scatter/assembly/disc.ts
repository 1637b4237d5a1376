/** A disc: for each row of it, from `rows`, where its entries begin; entries are a byte offset and a weight. */
@unmanaged
export class Disc {
  reach: i32;
  rows: usize;
  offsets: usize;
  weights: usize;
}

/** Adds a light through rows `top` to `bottom` of a disc to differences, whose middle lies at `base`. */
export function addDisc(disc: Disc, top: i32, bottom: i32, light: v128, base: usize): void {
  const begin = load<i32>(disc.rows + ((<usize>(top + disc.reach)) << 2));
  const stop = load<i32>(disc.rows + ((<usize>(bottom + disc.reach + 1)) << 2));
  let offset = disc.offsets + ((<usize>begin) << 2);
  let weight = disc.weights + ((<usize>begin) << 2);
  const last = disc.offsets + ((<usize>stop) << 2);
  while (offset < last) {
    const to = base + <usize>load<i32>(offset);
    v128.store(to, f32x4.add(v128.load(to), f32x4.mul(light, v128.load32_splat(weight))));
    offset += 4;
    weight += 4;
  }
}
