import { SettingError } from '../../errors';
import { addPlanes, mapRgb, type Rgb } from '../../image/rgb';
import { withSeparation, type Light } from '../../light/light';
import { maskAt, maskKey } from '../../light/mask';
import { channelPlane, scaledFrame, type Plate } from '../../light/plate';
import type { StationContext, StationEffect } from '../../light/station';
import type { Look } from '../../look/look';
import { LINES, normalIndex } from '../../optics/glass';
import { spectralNodes } from '../../optics/spectral-weights';
import { LEAN_STEPS } from '../../kernels/dispersion';
import { plateReads, preparedPass } from '../plate/run';

type Piece = Look['glass']['scene'];

/** Longest step between neighbouring wavelengths, pixels, and most wavelengths. */
const STEP = 0.7;
const MOST_NODES = 64;
/** Shares of the steepest lean up to which normals have wavelengths of their own. */
const LEVELS = [0.2, 0.35, 0.5, 0.65, 0.8, 0.9, 1] as const;
/** How far a normal leans from the view at most, as a sine: flatter surfaces bend as this one does. */
const steepest = Math.sqrt(1 - 0.15 ** 2);

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
    plateReads(look),
  ],
  reach: (look, scale, { plate }) =>
    Math.max(...scenePieces(look).map(({ piece }) => spreadOf(piece) * piece.amount)) *
      scaledFrame(plate, scale).height +
    2,
  async run(light, look, context) {
    let sum: Rgb | undefined;
    for (const { piece, path } of scenePieces(look)) {
      const part = await partColours(light, look, piece, path, context);
      sum = sum ? mapRgb(sum, (plane, c) => addPlanes(plane, part[c])) : part;
    }
    return { light: sum ? withSeparation(light, { name: 'glass.scene', rgb: sum }) : light };
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
  const at = (nm: number): number => bentAside(Math.max(1, normalIndex(glass, nm)), steepest);
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
  const [right, down] = await cache.getOrCompute(
    `${plate.id} lean of ${piece.normals} @${scale}`,
    () => sideways(plate, piece.normals, `${path}.normals`, scale),
    (planes) => 2 * planes[0].byteLength,
  );
  const depth = piece.amount * scaledFrame(plate, scale).height;
  const glass = { nd: piece.index, vd: piece.abbe };
  const indexAt = (nm: number): number => Math.max(1, normalIndex(glass, nm));
  const levels = LEVELS.map((share) => {
    const upTo = share * steepest;
    const between = (from: number, to: number): number =>
      depth * Math.abs(bentAside(indexAt(to), upTo) - bentAside(indexAt(from), upTo));
    const whole = between(415, 550) + between(550, 685);
    const nodes = spectralNodes(between, Math.max(STEP, whole / MOST_NODES));
    const samples = nodes.map(({ wavelength, weight }) => ({
      weight,
      shifts: asideTable(indexAt(wavelength), indexAt(LINES.d), depth),
    }));
    return { upTo, samples };
  });
  const input = { width, height, seen, matte, right, down, steepest, levels };
  return context.kernels.dispersion.disperse(input, { signal: context.signal });
}

/** How far a wavelength lies from the d line, pixels, by how far the normal leans. */
function asideTable(index: number, reference: number, depth: number): Float32Array {
  return Float32Array.from({ length: LEAN_STEPS + 1 }, (_, k) => {
    const side = (k / LEAN_STEPS) * steepest;
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
