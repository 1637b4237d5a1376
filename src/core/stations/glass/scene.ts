import { SettingError } from '../../errors';
import { bilinearSampler } from '../../image/bilinear';
import { blackRgb, mapRgb, type Rgb } from '../../image/rgb';
import { withSeparation, type Light } from '../../light/light';
import { maskAt } from '../../light/mask';
import { channelPlane, scaledFrame, type Plate } from '../../light/plate';
import type { StationContext, StationEffect } from '../../light/station';
import type { Look } from '../../look/look';
import { LINES, normalIndex } from '../../optics/glass';
import { spectralNodes } from '../../optics/spectral-weights';
import { maskKey, preparedPass } from '../plate/run';

type Piece = Look['glass']['scene'];

/** Longest step between neighbouring wavelengths, pixels, and most wavelengths. */
const STEP = 0.7;
const MOST_NODES = 64;
/** The flattest angle at which a surface is seen that bends light, as the cosine. */
const GRAZING = 0.15;

/** The glasses that a look has in its scene, with where each stands in the look. */
export function scenePieces({ glass }: Look): { piece: Piece; path: string }[] {
  const all = [
    { piece: glass.scene, path: 'glass.scene' },
    ...glass.pieces.map((piece, k) => ({ piece, path: `glass.pieces[${k}]` })),
  ];
  return glass.on ? all.filter(({ piece }) => piece.on && piece.amount > 0) : [];
}

/**
 * Glass in the scene, before any lens: within its matte the light that came through it is read again along the bent ray of
 * each wavelength, so that colours part as in cut glass. The d line stays where it was rendered. What is reflected inside,
 * which the pass does not hold, is not known.
 */
export const sceneGlassEffect: StationEffect = {
  isActive: (look) => scenePieces(look).length > 0,
  reads: (look) => [
    scenePieces(look).map(({ piece }) => [piece, maskKey(look, piece.matte)]),
    look.plate,
    look.masks,
  ],
  reach: (look, scale, { plate }) =>
    Math.max(...scenePieces(look).map(({ piece }) => spreadOf(piece) * piece.amount)) *
      scaledFrame(plate, scale).height +
    2,
  async run(light, look, context) {
    const sum = blackRgb(light.width * light.height);
    for (const { piece, path } of scenePieces(look)) {
      const part = await partColours(light, look, piece, path, context);
      for (const [c, plane] of sum.entries()) {
        const own = part[c]!;
        for (let i = 0; i < plane.length; i++) plane[i]! += own[i]!;
      }
    }
    return { light: withSeparation(light, { name: 'glass.scene', rgb: sum }) };
  },
};

/**
 * How far a ray is bent to the side on its way through glass of an index, for each unit of depth: of a surface whose normal
 * leans by `side` (its sine) from the view (Snell 1621).
 */
export function bentAside(index: number, side: number): number {
  const facing = Math.sqrt(Math.max(0, 1 - side * side));
  const within = side / index;
  const cosine = Math.sqrt(Math.max(1e-12, 1 - within * within));
  // Along the normal and across it, turned back into the view's axes.
  const across = within * facing - cosine * side;
  const along = within * side + cosine * facing;
  return across / Math.max(1e-6, along);
}

/** The most that the ends of the spectrum lie apart, for each unit of depth. */
function spreadOf({ index, abbe }: Pick<Piece, 'index' | 'abbe'>): number {
  const glass = { nd: index, vd: abbe };
  const side = Math.sqrt(1 - GRAZING * GRAZING);
  const at = (nm: number): number => bentAside(Math.max(1, normalIndex(glass, nm)), side);
  return Math.abs(at(415) - at(685)) + Math.abs(at(415) - at(LINES.d));
}

/** What parting the colours of one glass adds and takes. */
async function partColours(
  light: Light,
  look: Look,
  piece: Piece,
  path: string,
  context: StationContext,
): Promise<Rgb> {
  const { width, height, scale } = light;
  const { plate, cache } = context;
  if (piece.matte === '')
    throw new SettingError('the glass has no matte', {
      where: `${path}.matte`,
      todo: 'Choose the matte of the glass: nothing outside it changes',
    });
  const matte = (await maskAt(look, piece.matte, `${path}.matte`, plate, scale, cache))!;
  const seen = (await preparedPass(context, piece.pass, `${path}.pass`, look, scale)).total;
  const [nx, ny] = sideways(plate, piece.normals, `${path}.normals`, scale);
  const depth = piece.amount * scaledFrame(plate, scale).height;
  const glass = { nd: piece.index, vd: piece.abbe };
  const indexAt = (nm: number): number => Math.max(1, normalIndex(glass, nm));
  const steepest = Math.sqrt(1 - GRAZING * GRAZING);
  const between = (from: number, to: number): number =>
    depth * Math.abs(bentAside(indexAt(to), steepest) - bentAside(indexAt(from), steepest));
  const whole = between(415, 550) + between(550, 685);
  const nodes = spectralNodes(between, Math.max(STEP, whole / MOST_NODES));
  const shifts = nodes.map(({ wavelength }) => asideTable(indexAt(wavelength), indexAt(LINES.d), depth));
  const samplers = [...seen, matte].map((plane) => bilinearSampler(plane, width, height)) as [
    Sampler,
    Sampler,
    Sampler,
    Sampler,
  ];
  const out = mapRgb(seen, (plane) => new Float32Array(plane.length));
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const cover = matte[i]!;
      if (cover <= 0) continue;
      const side = Math.min(steepest, Math.hypot(nx[i]!, ny[i]!));
      if (side < 1e-4) continue;
      const length = Math.hypot(nx[i]!, ny[i]!);
      const [ux, uy] = [nx[i]! / length, ny[i]! / length];
      const place = (side / steepest) * SIDE_STEPS;
      const below = Math.min(SIDE_STEPS - 1, Math.floor(place));
      let [r, g, b] = [0, 0, 0];
      for (let k = 0; k < nodes.length; k++) {
        const table = shifts[k]!;
        const shift = table[below]! + (place - below) * (table[below + 1]! - table[below]!);
        const [sx, sy] = [x + shift * ux, y + shift * uy];
        // Where the ray leaves the matte nothing is known of what lies there: the pixel's own light stands in.
        const lacking = 1 - Math.min(1, samplers[3](sx, sy));
        const { weight } = nodes[k]!;
        r += weight[0] * (samplers[0](sx, sy) + lacking * seen[0][i]!);
        g += weight[1] * (samplers[1](sx, sy) + lacking * seen[1][i]!);
        b += weight[2] * (samplers[2](sx, sy) + lacking * seen[2][i]!);
      }
      out[0][i] = cover * (r - seen[0][i]!);
      out[1][i] = cover * (g - seen[1][i]!);
      out[2][i] = cover * (b - seen[2][i]!);
    }
  return out;
}

type Sampler = (x: number, y: number) => number;

const SIDE_STEPS = 256;

/** How far a wavelength lies from the d line, pixels, by how far the normal leans. */
function asideTable(index: number, reference: number, depth: number): Float32Array {
  const steepest = Math.sqrt(1 - GRAZING * GRAZING);
  return Float32Array.from({ length: SIDE_STEPS + 1 }, (_, k) => {
    const side = (k / SIDE_STEPS) * steepest;
    return depth * (bentAside(index, side) - bentAside(reference, side));
  });
}

/**
 * How far normals lean from the view, right and down the picture, as sines. Those stored from 0 to 1 are spread to -1 to 1;
 * which way they point along the view does not matter. Throws {@link SettingError} without a pass of normals.
 */
function sideways(plate: Plate, name: string, path: string, scale: number): [Float32Array, Float32Array] {
  const normals = plate.passes.filter(({ kind }) => kind === 'normal');
  const pass = plate.passes.find((one) => one.name === name) ?? (name === 'normals' ? normals[0] : undefined);
  if (!pass || pass.channels.length < 3)
    throw new SettingError(
      pass ? `pass ${name} of ${plate.name} holds no normals` : `${plate.name} has no normals called ${name}`,
      {
        where: path,
        todo: normals.length
          ? `Its normals are ${normals.map((one) => one.name).join(', ')}`
          : 'Render a pass of normals, and bring it in with the plate',
      },
    );
  const [x, y, z] = pass.channels.slice(0, 3).map(({ channel }) => channelPlane(plate, channel, scale)) as [
    Float32Array,
    Float32Array,
    Float32Array,
  ];
  const packed = [x, y, z].every((plane) => plane.every((value) => value >= 0));
  const unpack = (value: number): number => (packed ? 2 * value - 1 : value);
  const right = new Float32Array(x.length);
  const down = new Float32Array(x.length);
  for (let i = 0; i < right.length; i++) {
    const [a, b, c] = [unpack(x[i]!), unpack(y[i]!), unpack(z[i]!)];
    const length = Math.hypot(a, b, c);
    if (length < 1e-3) continue;
    right[i] = a / length;
    down[i] = -b / length;
  }
  return [right, down];
}
