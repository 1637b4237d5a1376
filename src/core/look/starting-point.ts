import { assignSetting, defaultLook, type Look } from './look';

/** Settings under a name, to begin from. */
export interface StartingPoint {
  id: string;
  name: string;
  /** What it is like, in one line. */
  says: string;
  /** As on a command line: `path=value`. */
  settings: readonly string[];
}

/** A look with another pupil: that of the starting point, everything else of it at its default. */
export function applyPupil(look: Look, { settings }: StartingPoint): Look {
  return settings.reduce(assignSetting, { ...look, pupil: defaultLook().pupil });
}

/** A look with another veil and its pupil. What feeds it and the energy's mode, which go by the plate, stay. */
export function applyVeil(look: Look, { settings }: StartingPoint): Look {
  const { veil, pupil } = defaultLook();
  const { feed, mode } = look.veil;
  return settings.reduce(assignSetting, { ...look, pupil, veil: { ...veil, feed, mode } });
}

/** A look whose ghosts have lights: without any that are on, the brightest of the picture. */
export function findLights(look: Look): Look {
  const { on, lights, find } = look.ghosts;
  if (!on || find.on || lights.some((light) => light.on)) return look;
  return { ...look, ghosts: { ...look.ghosts, find: { ...find, on: true } } };
}

/** A look with other ghosts. Its lights stay; one without any takes the brightest of the picture. */
export function applyFlare(look: Look, { settings }: StartingPoint): Look {
  const { lights, groups, find, shafts, air, mirror } = look.ghosts;
  const { ghosts } = defaultLook();
  const own = { ...ghosts, on: true, lights, groups, find, shafts, air, mirror };
  return settings.reduce(assignSetting, findLights({ ...look, ghosts: own }));
}

/** A look with another lens glass. Glass in the scene, which goes by the plate, stays. */
export function applyGlass(look: Look, { settings }: StartingPoint): Look {
  const { scene, pieces } = look.glass;
  return settings.reduce(assignSetting, { ...look, glass: { ...defaultLook().glass, scene, pieces } });
}

/** A look with another film. Its exposure, masks and look-up table, which go by the plate, stay. */
export function applyFilm(look: Look, { settings }: StartingPoint): Look {
  const { exposure, within, lut, lutInput } = look.film;
  return settings.reduce(assignSetting, {
    ...look,
    film: { ...defaultLook().film, exposure, within, lut, lutInput },
  });
}
