/**
 * A function that reads a plane (`width * height`, row-major) between its pixels. Pixel (i, j) has its centre at
 * (i, j) here; outside the plane its edge goes on.
 */
export function bilinearSampler(
  plane: Float32Array,
  width: number,
  height: number,
): (x: number, y: number) => number {
  return (x, y) => {
    const u = x < 0 ? 0 : x > width - 1 ? width - 1 : x;
    const v = y < 0 ? 0 : y > height - 1 ? height - 1 : y;
    const [left, top] = [Math.floor(u), Math.floor(v)];
    const [fx, fy] = [u - left, v - top];
    const above = top * width + left;
    const right = left + 1 < width ? 1 : 0;
    const below = top + 1 < height ? above + width : above;
    const upper = plane[above]! + fx * (plane[above + right]! - plane[above]!);
    const lower = plane[below]! + fx * (plane[below + right]! - plane[below]!);
    return upper + fy * (lower - upper);
  };
}
