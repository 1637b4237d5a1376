import { luminance } from '../../color/primaries';
import { SettingError } from '../../errors';
import type { RgbaImage } from '../../image/rgba';
import { encodeSrgb } from '../../color/srgb';
import type { Plate } from '../../light/plate';
import type { StationQuery } from '../../light/query';
import type { Look } from '../../look/look';
import { lensFacts, type GhostPair, type LensFacts } from '../../optics/lens/paraxial';
import { lensSection, type LensSection } from '../../optics/lens/section';
import { drawGhosts, prepareGhosts, stopMask, type PreparedGhost } from './flare';
import { focusShift, ghostsOfLens, keptGhosts, listedDesign, mountedDesign, pairSettings } from './lens';
import type { ResolvedLight } from '../../light/resolved-light';
import { resolveLights, sightLights } from './lights';

/** Side of a ghost's picture in the table, pixels. */
const CELL = 32;
const CELL_MARGIN = 2;
/** Wavelength at which the table's light is measured, nm, and rays along each side for it. */
const MIDDLE = 545;
const TABLE_NODES = 17;
/** Where a light stands for the table of a look that has none. */
const SAMPLE: ResolvedLight = {
  name: 'Sample',
  index: 0,
  isFound: false,
  x: 0.72,
  y: 0.34,
  flux: [1, 1, 1],
  size: 0.005,
  distance: undefined,
  visibility: 1,
  flare: 1,
  veil: 0,
};

/** A ghost in the table. */
export interface GhostRow {
  /** `3-7` */
  name: string;
  /** Whether it is among those that the look shows. */
  isKept: boolean;
  /** Diameter for a light on the axis, share of the picture height. */
  size: number;
  /** Light as a share of that of the light's own image; 0 if none comes through. */
  flux: number;
  /** Stops below the brightest of all, by its light over its area. */
  stops: number;
}

/** A ghost where it lies on the picture: a rectangle about it, in shares of the frame. */
export interface GhostPlace {
  name: string;
  light: string;
  x: number;
  y: number;
  width: number;
  height: number;
}

export interface GhostTable {
  rows: GhostRow[];
  /** Pictures of the rows, from the left, each a square. */
  sheet: RgbaImage;
  /** The shown ghosts of all lights. */
  places: GhostPlace[];
  /** What all shown ghosts of the light have together, as a share of its own image's light. */
  shown: number;
  light: string | undefined;
}

/** Width of a plate's frame over its height. */
const aspectOf = ({ frame }: Plate): number => frame.width / frame.height;

/** The lights of a look, as the plate lets them shine. */
const ghostLights: StationQuery<object, { lights: ResolvedLight[] }> = async (look, _input, context) => ({
  lights: await resolveLights(look, { ...context, plate: context.plate() }),
});

/** The lights of a frame by itself, from which those of the frames near it are steadied. */
const sightedLights: StationQuery<object, { lights: ResolvedLight[] }> = async (look, _input, context) => ({
  lights: await sightLights(look, { ...context, plate: context.plate() }),
});

/** All ghosts of the lens for one light, by brightness, with their pictures. */
const ghostTable: StationQuery<{ light: number }, GhostTable> = async (look, { light }, context) => {
  const aspect = aspectOf(context.plate());
  const { sensorWidth } = look.camera;
  const height = sensorWidth / aspect;
  const ranked = await ghostsOfLens(look, Math.hypot(sensorWidth, height) / 2, context);
  const kept = keptGhosts(look, ranked, height);
  const lights = (await resolveLights(look, { ...context, plate: context.plate() })).filter(
    ({ flux, flare }) => luminance(...flux) * flare > 0,
  );
  const own = lights[light] ?? lights[0] ?? SAMPLE;
  // Each by itself, as the surfaces reflect it: white, and nothing in front of the light.
  const bare = { ...own, flux: [1, 1, 1] as ResolvedLight['flux'], visibility: 1, flare: 1 };
  const plain = { ...look, ghosts: { ...look.ghosts, pairs: {} } };
  const prepared = await prepareGhosts(plain, [bare], ranked, aspect, 1, { ...context, draft: true });
  const fluxes = await measureShares(plain, prepared, context);
  const byName = new Map(prepared.map((one, k) => [one.ghost.name, { ...one, flux: fluxes[k]! }]));
  const density = ({ drawing: { bounds, blur }, flux }: PreparedGhost & { flux: number }): number => {
    const [w, h] = [bounds.right - bounds.left, bounds.bottom - bounds.top];
    return flux / ((Math.PI / 4) * w * h + 4 * Math.PI * blur * blur);
  };
  const brightest = Math.max(...[...byName.values()].map(density), 1e-30);
  const rows = ranked.map((ghost): GhostRow => {
    const found = byName.get(ghost.name);
    return {
      name: ghost.name,
      isKept: kept.includes(ghost),
      size: (2 * ghost.radius) / height,
      flux: found?.flux ?? 0,
      stops: found ? Math.log2(Math.max(1e-30, density(found)) / brightest) : -Infinity,
    };
  });
  const shown = kept.reduce(
    (sum, { name }) => sum + (byName.get(name)?.flux ?? 0) * pairSettings(look, name).gain,
    0,
  );
  const sheet = await drawSheet(
    plain,
    ranked.map(({ name }) => byName.get(name)),
    context,
  );
  const onPicture = await prepareGhosts(look, lights, kept, aspect, 1, { ...context, draft: true });
  return {
    rows,
    sheet,
    places: onPicture.map((one) => placeOf(one, sensorWidth, height)),
    shown: shown * look.ghosts.amount,
    light: lights.length > 0 ? own.name : undefined,
  };
};

function placeOf(
  { ghost, light, drawing: { bounds } }: PreparedGhost,
  width: number,
  height: number,
): GhostPlace {
  return {
    name: ghost.name,
    light: light.name,
    x: bounds.left / width + 0.5,
    y: bounds.top / height + 0.5,
    width: (bounds.right - bounds.left) / width,
    height: (bounds.bottom - bounds.top) / height,
  };
}

type Flare = Parameters<typeof stopMask>[1];

/** The light of each ghost as a share of the light's own image's, from the weights it is drawn with. */
async function measureShares(
  look: Look,
  prepared: readonly PreparedGhost[],
  context: Flare,
): Promise<number[]> {
  const mask = await stopMask(look, context);
  const areas = await context.kernels.ghosts.measure(
    prepared.map(({ drawing }) => drawing),
    [MIDDLE],
    mask,
    TABLE_NODES,
  );
  return areas.map(([area], k) => {
    const { colours } = prepared[k]!.drawing;
    // All weights together are one over what comes straight through.
    const whole = colours.reduce((sum, { weight }) => sum + luminance(...weight), 0);
    return area! * whole;
  });
}

/** Each ghost in a square of its own, as large as fits, its brightest place white. */
async function drawSheet(
  look: Look,
  ghosts: readonly (PreparedGhost | undefined)[],
  context: Flare,
): Promise<RgbaImage> {
  const width = CELL * Math.max(1, ghosts.length);
  const pixels = new Uint8ClampedArray(width * CELL * 4);
  for (let i = 3; i < pixels.length; i += 4) pixels[i] = 255;
  for (const [k, ghost] of ghosts.entries()) {
    if (!ghost) continue;
    const { bounds } = ghost.drawing;
    const side = Math.max(bounds.right - bounds.left, bounds.bottom - bounds.top, 1e-3);
    const pitch = (CELL - 2 * CELL_MARGIN) / side;
    const frame = {
      x: CELL / 2 - ((bounds.left + bounds.right) / 2) * pitch - (pitch * look.camera.sensorWidth) / 2,
      y: CELL / 2 - ((bounds.top + bounds.bottom) / 2) * pitch,
      width: pitch * look.camera.sensorWidth,
      height: 0,
      scale: 1,
    };
    const rgb = await drawGhosts(look, [ghost], { width: CELL, height: CELL }, frame, {
      ...context,
      draft: true,
    });
    let most = 1e-30;
    for (const plane of rgb) for (const value of plane) if (value > most) most = value;
    for (let i = 0; i < CELL * CELL; i++)
      for (let c = 0; c < 3; c++)
        pixels[4 * (Math.floor(i / CELL) * width + k * CELL + (i % CELL)) + c] =
          255 * encodeSrgb(rgb[c]![i]! / most);
  }
  return { width, height: CELL, pixels };
}

/** A lens as it is drawn, and what it does as a whole. */
export interface LensDrawing {
  section: LensSection;
  facts: LensFacts;
  /** Focal length over that of the design as it is listed. */
  scale: number;
  /** How far the sensor is moved back for the focus, mm. */
  shift: number;
  surfaces: number;
}

/** The lens of a look, cut through, with rays at a field angle (degrees) and the path of a ghost. */
const lensDrawing: StationQuery<
  { degrees: number; wavelength: number; ghost?: string | undefined },
  LensDrawing
> = (look, { degrees, wavelength, ghost }) => {
  const design = mountedDesign(look);
  const listed = listedDesign(look);
  const { sensorWidth, sensorHeight, focusDistance } = look.camera;
  const shift = focusShift(look);
  return {
    section: lensSection(design, {
      angle: (degrees * Math.PI) / 180,
      distance: shift > 0 ? focusDistance * 1000 : undefined,
      wavelength,
      ghost: ghost === undefined ? undefined : pairOf(ghost),
      half: Math.hypot(sensorWidth, sensorHeight) / 2,
    }),
    facts: lensFacts(design, wavelength),
    scale: design.focalLength / listed.focalLength,
    shift,
    surfaces: design.surfaces.length,
  };
};

/** The surfaces of a ghost's name. */
export function pairOf(name: string): GhostPair {
  const [first, second] = name.split('-').map(Number);
  if (Number.isInteger(first) && Number.isInteger(second)) return { first: first!, second: second! };
  throw new SettingError(`${name} is no pair of surfaces`, {
    todo: 'Name it as the design numbers them: 3-7',
  });
}

export const ghostQueries = { ghostLights, sightedLights, ghostTable, lensDrawing };
