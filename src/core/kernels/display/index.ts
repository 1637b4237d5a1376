import type { Matrix } from '../../color/chromaticities';
import { logTable } from '../../color/tone';
import { HALF_POWER, TABLE_ENCODINGS, type View, type ViewTable } from '../../color/view';
import { PLAN, WASM } from '../generated/display';
import { Arena } from '../runtime/memory';
import { Plan } from '../runtime/plan';
import { onMemory } from '../runtime/wasm';

/** What the WebAssembly kernel offers; `plan` is the address of a plan (see assembly/plan.ts). */
interface DisplayExports {
  firstFree(): number;
  showCurve(plan: number, count: number): void;
  showTable(plan: number, count: number, scratch: number): void;
}

const displayKernel = onMemory<DisplayExports>(WASM);

/** Pixels taken together: what is between the copies stays near. */
const CHUNK = 8192;
/** Steps of the tables over the display's 0 to 1 but the first. */
const STEPS = 16383;
/** Stands for no end; a float. */
const FAR = 3e38;

const FIELDS = ['red', 'green', 'blue'] as const;

/** The kernel on this thread, set up for the view that it showed last. */
interface Screen {
  arena: Arena;
  plan: Plan<typeof PLAN>;
  kernel: DisplayExports;
  /** A vector. */
  scratch: number;
  /** Where memory is free for what belongs to a view. */
  mark: number;
  view?: View;
}

let screen: Screen | undefined;

/**
 * Scene-linear planes to opaque RGBA bytes for the screen, as `applyView` has them, to within one step of a byte. `gain`
 * multiplies the light first.
 */
export function displayBytes(
  view: View,
  rgb: readonly Float32Array[],
  gain: number,
): Uint8ClampedArray<ArrayBuffer> {
  const { arena, plan, kernel, scratch } = screenFor(view);
  plan.set('gain', gain);
  const [first, pixelsAt] = [FIELDS.map((field) => plan.get(field)), plan.get('pixels')];
  const count = rgb[0]!.length;
  const pixels = new Uint8ClampedArray(4 * count);
  for (let from = 0; from < count; from += CHUNK) {
    const size = Math.min(CHUNK, count - from);
    first.forEach((at, c) => arena.floats(at, size).set(rgb[c]!.subarray(from, from + size)));
    if (view.table) kernel.showTable(plan.address, size, scratch);
    else kernel.showCurve(plan.address, size);
    pixels.set(arena.octets(pixelsAt, 4 * size), 4 * from);
  }
  return pixels;
}

function screenFor(view: View): Screen {
  screen ??= makeScreen();
  if (screen.view === view) return screen;
  screen.view = undefined;
  screen.arena.release(screen.mark);
  const { plan } = screen;
  const write = (values: Float32Array): number => {
    // A float more, since colours are read as four.
    const at = screen!.arena.allocate(values.byteLength + 4);
    screen!.arena.floats(at, values.length).set(values);
    return at;
  };
  const encoded = Float32Array.from({ length: STEPS + 1 }, (_, step) => view.encode(step / STEPS));
  const bytes = plan.allocate('encoded', encoded.length);
  screen.arena.octets(bytes, encoded.length).set(encoded.map((value) => Math.round(255 * value)));
  plan.set('crosstalk', view.crosstalk);
  plan.set('isFilmic', view.name === 'filmic' ? 1 : 0);
  plan.set('halfPower', HALF_POWER);
  if (view.table) setTable(plan, view.table, encoded, write);
  screen.view = view;
  return screen;
}

function makeScreen(): Screen {
  const arena = new Arena();
  const kernel = displayKernel(arena.shared);
  arena.release(kernel.firstFree());
  const plan = new Plan(arena, PLAN);
  // A vector more, for what lies behind the last pixel.
  for (const field of [...FIELDS, 'pixels'] as const) plan.allocate(field, 4 * CHUNK + 16);
  const scratch = arena.allocate(16);
  return { arena, plan, kernel, scratch, mark: arena.mark() };
}

function setTable(
  plan: Plan<typeof PLAN>,
  { lut, input, strength }: ViewTable,
  encoded: Float32Array,
  write: (values: Float32Array) => number,
): void {
  const encoding = TABLE_ENCODINGS[input];
  const { matrix, floor, line } = encoding;
  plan.set('strength', strength);
  plan.set('plain', write(encoded));
  plan.set('matrix', matrix ? write(columnsOf(matrix)) : 0);
  plan.set('floor', Math.max(-FAR, floor));
  plan.set('lineEnd', Math.min(FAR, line.end));
  plan.set('lineSlope', line.slope);
  plan.set('lineStart', line.start);
  plan.set('curve', write(logTable((light) => encoding.curve(light))));
  const { domainMin, domainMax, shaper, cube } = lut;
  const spans = domainMax.map((max, c) => 1 / (max - domainMin[c]!));
  plan.set('domain', write(Float32Array.of(...domainMin, 0, ...spans, 0)));
  plan.set('shaper', shaper ? write(shaper.values) : 0);
  plan.set('shaperSize', shaper?.size ?? 0);
  plan.set('cube', cube ? write(cube.values) : 0);
  plan.set('cubeSize', cube?.size ?? 0);
  const [start, end] = lut.cubeRange ?? [0, 1];
  plan.set('cubeStart', start);
  plan.set('cubeScale', 1 / (end - start));
}

/** A matrix by columns of four floats. */
function columnsOf(rows: Matrix): Float32Array {
  return Float32Array.from([0, 1, 2].flatMap((c) => [...rows.map((row) => row[c]!), 0]));
}
