/**
 * Writes red, green and blue as a Radiance picture with new run lengths (see the reader for sources). Each pixel keeps
 * 8 bits of its brightest channel, cut off as the format's own tools do; negative light becomes black.
 */
export function writeHdr(
  planes: readonly Float32Array[],
  width: number,
  height: number,
): Uint8Array<ArrayBuffer> {
  const head = new TextEncoder().encode(`#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y ${height} +X ${width}\n`);
  const packed = width >= 8 && width < 32768;
  // A line without runs takes one count for each 128 bytes.
  const longest = packed ? 4 + 4 * (width + Math.ceil(width / 128)) : width * 4;
  const out = new Uint8Array(head.length + longest * height);
  out.set(head);
  let at = head.length;
  const line = new Uint8Array(width * 4);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) encodePixel(planes, y * width + x, line, 4 * x);
    if (!packed) {
      out.set(line, at);
      at += line.length;
      continue;
    }
    out.set([2, 2, width >> 8, width & 255], at);
    at += 4;
    for (let c = 0; c < 4; c++) at = writeRuns(line, c, width, out, at);
  }
  return out.slice(0, at);
}

function encodePixel(planes: readonly Float32Array[], i: number, line: Uint8Array, at: number): void {
  const [r, g, b] = [planes[0]![i]!, planes[1]![i]!, planes[2]![i]!];
  const most = Math.max(r, g, b);
  if (!(most > 1e-32)) {
    line.fill(0, at, at + 4);
    return;
  }
  // most = m * 2^exponent with m in 0.5 .. 1
  let exponent = Math.max(-127, Math.min(127, Math.floor(Math.log2(most)) + 1));
  if (most >= 2 ** exponent) exponent = Math.min(127, exponent + 1);
  const scale = 256 * 2 ** -exponent;
  [r, g, b].forEach((value, c) => {
    line[at + c] = value > 0 ? Math.min(255, Math.floor(value * scale)) : 0;
  });
  line[at + 3] = exponent + 128;
}

/** One channel of a line: runs of 4 and more as a count over 128 and the value, the rest as counted bytes. */
function writeRuns(line: Uint8Array, c: number, width: number, out: Uint8Array, at: number): number {
  const value = (x: number): number => line[4 * x + c]!;
  const runAt = (x: number): number => {
    let length = 1;
    while (length < 127 && x + length < width && value(x + length) === value(x)) length++;
    return length;
  };
  for (let x = 0; x < width;) {
    let next = x;
    let run = 0;
    while (next < width && next - x < 128) {
      run = runAt(next);
      if (run >= 4) break;
      next += Math.min(run, 128 - (next - x));
      run = 0;
    }
    if (next > x) {
      out[at++] = next - x;
      for (; x < next; x++) out[at++] = value(x);
    }
    if (run >= 4) {
      out[at++] = 128 + run;
      out[at++] = value(x);
      x += run;
    }
  }
  return at;
}
