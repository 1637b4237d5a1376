import { MANY_PIXELS, type FeedKind } from '../stations/veil/feed-facts';
import { PARTS, partPaths } from '../stations/veil/parts';
import {
  getSetting,
  pathsIn,
  SETTINGS,
  settingAt,
  setSetting,
  stationOfPath,
  type Look,
  type StationId,
} from './look';
import { type NumberMeta, type RealLensBand, type Setting, type SettingValue } from '../settings/setting';

/** What of the picture the look was computed on is asked about. */
export interface Measured {
  /** What feeds the veil: its share of the pixels, and, once it is known, what it is. */
  feed?: { pixels: number; kind?: FeedKind | undefined } | undefined;
  /** Lamps that have lost their detail, and light that clamping took out of the feed. */
  cores?: MeasuredCores | undefined;
}

interface MeasuredCores {
  flat: { cause: 'amount' | 'exposure' | 'view'; count: number; x: number; y: number } | undefined;
  clamped: number;
}

/** Something that lies outside what real lenses do. */
export interface Finding {
  /** Path of the setting that is to blame, or of the first of several. */
  path: string;
  station: StationId;
  /** What it is, in the words of the panels. */
  label: string;
  /** Its value and the band as they are shown, with their unit. */
  value: string;
  band: string;
  source: string;
  /** Why it looks wrong, in plain words. */
  why: string;
  /** Settings that bring it back, or that the threshold of the feed has to be found. */
  remedy: { changes: readonly (readonly [path: string, value: SettingValue])[] } | { threshold: number };
}

/** Share of the pixels that is aimed at where too many feed (common practice). */
const AIMED = 0.008;

/** Everything of a look that lies outside what real lenses do and has a say in the picture, in light's own order. */
export function realityCheck(look: Look, measured: Measured = {}): Finding[] {
  const found = SETTINGS.flatMap((setting) => pathsIn(look, setting).map(settingAt)).flatMap((setting) =>
    setting.kind === 'number' && setting.band ? checkBand(look, setting, setting.band) : [],
  );
  return [
    ...found,
    ...checkFocusDistance(look),
    ...checkTotalGlare(look),
    ...checkFlaringLights(look),
    ...checkFedPixels(look, measured),
    ...checkLampCores(look, measured),
    ...checkClamp(look, measured),
  ];
}

/** The look with findings brought back, as far as settings do it: of those that change one number, by the one that changes it the most. */
export function applyRemedies(look: Look, findings: readonly Finding[]): Look {
  const change = ([path, value]: readonly [string, SettingValue]): number => {
    const present = getSetting(look, path);
    return typeof value === 'number' && typeof present === 'number' ? Math.abs(value - present) : 0;
  };
  return findings
    .flatMap(({ remedy }) => ('changes' in remedy ? remedy.changes : []))
    .sort((a, b) => change(a) - change(b))
    .reduce((changed, [path, value]) => setSetting(changed, path, value), look);
}

const BLOOM_AMOUNT = 'veil.bloom.amount';
/** What the eye scatters of all light by the CIE's own function, at most (CIE 135-1999, total glare of old eyes). */
const EYE_GLARE = 0.4;

/** The eye scatters far more than lenses do. */
function bloomBand({ veil }: Look, band: RealLensBand): RealLensBand {
  return veil.bloom.law === 'eye' ? { ...band, max: EYE_GLARE } : band;
}

function checkBand(look: Look, setting: Setting & NumberMeta, ordinary: RealLensBand): Finding[] {
  const value = getSetting(look, setting.path) as number;
  const band = setting.path === BLOOM_AMOUNT ? bloomBand(look, ordinary) : ordinary;
  const why = value < band.min ? band.below : value > band.max ? band.above : undefined;
  // Many settings stand at a value that means none of it.
  if (why === undefined || value === setting.default || !affectsPicture(look, setting.path)) return [];
  return [
    {
      path: setting.path,
      station: stationOfPath(setting.path),
      why,
      source: band.source,
      label: `${setting.group}: ${setting.label}`,
      value: shown(setting, value),
      band: `${shown(setting, band.min, false)} to ${shown(setting, band.max)}`,
      remedy: { changes: [[setting.path, value < band.min ? band.min : band.max]] },
    },
  ];
}

const shown = ({ shown: { factor, unit } }: NumberMeta, value: number, withUnit = true): string =>
  `${Number((value * factor).toPrecision(4))}${withUnit && unit ? ` ${unit}` : ''}`;

/** Whether a part of the veil spreads any light. */
function spreads(look: Look, part: string): boolean {
  const { veil } = look;
  return (
    veil.on && getSetting(look, `${part}.on`) === true && (getSetting(look, `${part}.amount`) as number) > 0
  );
}

/** Whether a setting does anything to the picture as things stand. */
function affectsPicture(look: Look, path: string): boolean {
  const spikes = spreads(look, 'veil.spikes');
  const filter = spreads(look, 'veil.filter');
  const part = /^(veil\.\w+(?:\[\d+\])?)\./.exec(path)?.[1];
  if (part !== undefined) {
    if (path === 'veil.bloom.falloff' && look.veil.bloom.law !== 'power') return false;
    return spreads(look, part);
  }
  if (path.startsWith('ghosts.')) return ghostsAffectPicture(look, path);
  if (path.startsWith('glass.')) return glassAffectsPicture(look, path);
  if (path.startsWith('film.')) return filmAffectsPicture(look, path);
  if (path.startsWith('focus.')) return look.focus.on;
  if (path === 'camera.fStop' && filter) return true;
  if (path.startsWith('camera.') || /^pupil\.\w+$/.test(path)) return look.focus.on || spikes;
  // What lies in the pupil shows in spikes, and in blurred highlights if it is to.
  if (path.startsWith('pupil.')) return spikes || (look.focus.on && look.focus.marks);
  return true;
}

/** Lights of the list that have ghosts. */
const flaringLights = ({ ghosts }: Look): number[] =>
  ghosts.lights.flatMap(({ on, flare }, index) => (on && flare > 0 ? [index] : []));

function ghostsAffectPicture(look: Look, path: string): boolean {
  const { ghosts } = look;
  if (!ghosts.on || (flaringLights(look).length === 0 && !ghosts.find.on)) return false;
  if (path === 'ghosts.coatingWavelength') return ghosts.coating === 'single';
  if (path === 'ghosts.find.count') return ghosts.find.on;
  return true;
}

function glassAffectsPicture(look: Look, path: string): boolean {
  const { glass } = look;
  if (!glass.on) return false;
  const piece = /^(glass\.(?:scene|pieces\[\d+\]))\./.exec(path)?.[1];
  if (piece) return getSetting(look, `${piece}.on`) === true;
  if (path.startsWith('glass.bend.')) return glass.fromLens;
  if (path === 'glass.axial' && !look.focus.on) return false;
  const isTyped = !glass.fromLens && glass.drive === 'typed';
  if (path === 'glass.lateral' || path === 'glass.axial') return isTyped;
  if (path === 'glass.residue') return !glass.fromLens && glass.drive === 'glass';
  if (path === 'glass.abbe')
    return !glass.fromLens && (glass.drive === 'glass' || glass.lateral !== 0 || glass.axial !== 0);
  return true;
}

function filmAffectsPicture(look: Look, path: string): boolean {
  const { film } = look;
  if (!film.on) return false;
  const part = /^film\.(halation|grain|sharpen)\./.exec(path)?.[1] as
    'halation' | 'grain' | 'sharpen' | undefined;
  return part === undefined || (film[part].on && film[part].amount > 0);
}

/** Photographs show the flare of one light, seldom of two or three (common practice). */
const MOST_FLARING = 3;

/** Lights that are placed flare as those do that are found; the faintest are the first to do without. */
function checkFlaringLights(look: Look): Finding[] {
  const { ghosts } = look;
  const listed = flaringLights(look);
  const all = listed.length + (ghosts.find.on ? ghosts.find.count : 0);
  if (!ghosts.on || ghosts.amount === 0 || listed.length === 0 || all <= MOST_FLARING) return [];
  const faintest = [...listed].sort((a, b) => ghosts.lights[a]!.gain - ghosts.lights[b]!.gain);
  return [
    {
      path: `ghosts.lights[${faintest[0]!}].flare`,
      station: 'ghosts',
      label: 'Lights that flare',
      value: `${all} lights`,
      band: `up to ${MOST_FLARING}`,
      source: 'common practice',
      why: 'in photographs one light flares, seldom two or three: more look synthetic',
      remedy: {
        changes: faintest
          .slice(0, Math.min(all - MOST_FLARING, listed.length))
          .map((index) => [`ghosts.lights[${index}].flare`, 0] as const),
      },
    },
  ];
}

/** A lens cannot be focused at its focal length or nearer: the image would lie at infinity. */
function checkFocusDistance(look: Look): Finding[] {
  const { focalLength, focusDistance } = look.camera;
  if (!look.focus.on || focusDistance * 1000 > focalLength) return [];
  const setting = settingAt('camera.focusDistance') as Setting & NumberMeta;
  const nearest = (2 * focalLength) / 1000;
  return [
    {
      path: setting.path,
      station: stationOfPath(setting.path),
      label: `${setting.group}: ${setting.label}`,
      value: shown(setting, focusDistance),
      band: `over ${shown(setting, focalLength / 1000)}`,
      source: 'thin-lens equation',
      why: 'the focus lies within the focal length, where no lens makes an image',
      remedy: { changes: [[setting.path, nearest]] },
    },
  ];
}

/** All that glares together is what a glare index tells of. */
function checkTotalGlare(look: Look): Finding[] {
  const glare = PARTS.filter(({ isGlare }) => isGlare);
  const parts = partPaths(look, glare).filter((part) => spreads(look, part));
  const amounts = parts.map(
    (part) => [`${part}.amount`, getSetting(look, `${part}.amount`) as number] as const,
  );
  const all = amounts.reduce((sum, [, amount]) => sum + amount, 0);
  const setting = settingAt(BLOOM_AMOUNT) as Setting & NumberMeta;
  const { min, max, source, above } = parts.includes('veil.bloom')
    ? bloomBand(look, setting.band!)
    : setting.band!;
  if (parts.length < 2 || all <= max * (1 + 1e-9)) return [];
  return [
    {
      path: amounts[0]![0],
      station: 'veil',
      label: 'All that glares together',
      source,
      value: shown(setting, all),
      band: `${shown(setting, min, false)} to ${shown(setting, max)}`,
      why: above!,
      remedy: { changes: amounts.map(([path, amount]) => [path, (amount * max) / all] as const) },
    },
  ];
}

/** Whether a part can have a feed of its own and has none. */
function usesCommonFeed(look: Look, part: string): boolean {
  const path = `${part}.feed.own`;
  return SETTINGS.some((setting) => setting.path === path) && getSetting(look, path) === false;
}

/** Glints and windows may feed with more of the picture than lamps; a scene that is merely lit should not. */
function checkFedPixels(look: Look, { feed }: Measured): Finding[] {
  const percent = (share: number): string => `${Number((share * 100).toPrecision(3))} %`;
  const shared = partPaths(look).some((part) => spreads(look, part) && usesCommonFeed(look, part));
  if (!feed || feed.pixels <= MANY_PIXELS || feed.kind !== 'scene' || !shared) return [];
  return [
    {
      path: 'veil.feed.threshold',
      station: 'veil',
      label: 'Feed: Threshold',
      value: `a lit scene: ${percent(feed.pixels)} of the pixels feed`,
      band: `lamps, up to ${percent(MANY_PIXELS)}`,
      source: 'common practice',
      why: 'walls and sky feed the veil as lamps do: everything glows',
      remedy: { threshold: AIMED },
    },
  ];
}

/** What takes the detail out of lamps: where it is set, and what would give it back. */
function causeOfFlatCores(
  look: Look,
  cause: NonNullable<MeasuredCores['flat']>['cause'],
): Pick<Finding, 'path' | 'station' | 'band' | 'why'> & { value: string; changes: [string, SettingValue][] } {
  const { plate, film } = look;
  if (cause === 'amount') {
    const parts = partPaths(look).filter((part) => spreads(look, part));
    const amounts = parts.map((part): [string, number] => [
      `${part}.amount`,
      getSetting(look, `${part}.amount`) as number,
    ]);
    const all = amounts.reduce((sum, [, amount]) => sum + amount, 0);
    const most = amounts.sort((a, b) => b[1] - a[1])[0]?.[0] ?? 'veil.on';
    return {
      path: most,
      station: 'veil',
      value: `${Number((all * 100).toPrecision(3))} % is scattered`,
      band: 'less of it',
      why: 'so much light lies over the lamps that what the render has in them is gone',
      changes: amounts.map(([path, amount]) => [path, Number((amount / 2).toPrecision(3))]),
    };
  }
  if (cause === 'exposure') {
    const path = Math.abs(plate.exposure) > Math.abs(film.exposure) ? 'plate.exposure' : 'film.exposure';
    const stops = plate.exposure + film.exposure;
    return {
      path,
      station: stationOfPath(path),
      value: `${stops > 0 ? '+' : ''}${Number(stops.toPrecision(3))} st of exposure`,
      band: '0 st',
      why: 'the exposure lifts what the render has in its lamps over what can be shown',
      changes: [
        ['plate.exposure', 0],
        ['film.exposure', 0],
      ],
    };
  }
  return {
    path: 'film.view',
    station: 'film',
    value: 'a view that ends at white',
    band: 'the filmic view',
    why: 'the view cuts off what the render has in its lamps, which a film holds with its shoulder',
    changes: [['film.view', 'filmic']],
  };
}

/** Lamps are flat and white, though the render has more in them. */
function checkLampCores(look: Look, { cores }: Measured): Finding[] {
  if (!cores?.flat) return [];
  const { cause, count, x, y } = cores.flat;
  const { value, band, changes, ...rest } = causeOfFlatCores(look, cause);
  const lamps = count === 1 ? '1 lamp is' : `${count} lamps are`;
  return [
    {
      ...rest,
      label: 'Lamp cores',
      value: `${lamps} flat white, first at ${x}, ${y}: ${value}`,
      band,
      source: 'common practice',
      remedy: { changes },
    },
  ];
}

/** Of the light that feeds, a clamp may take this much without a word. */
const CLAMPED = 0.5;

/** A clamp against fireflies takes lamps as well. */
function checkClamp(look: Look, { cores }: Measured): Finding[] {
  const clamped = look.elements.findIndex(({ clamp }) => clamp > 0);
  const isFed = partPaths(look).some((part) => spreads(look, part));
  if (!cores || cores.clamped <= CLAMPED || clamped < 0 || !isFed) return [];
  return [
    {
      path: `elements[${clamped}].clamp`,
      station: 'plate',
      label: 'Clamp: lamps',
      value: `${Number((cores.clamped * 100).toPrecision(3))} % of what would feed is clamped`,
      band: 'lamps as they are',
      source: 'common practice',
      why: 'streaks, spikes and bloom of the brightest lamps are gone: the clamp that is meant for fireflies has taken their light. Despike leaves lamps alone',
      remedy: { changes: [[`elements[${clamped}].clamp`, 0]] },
    },
  ];
}
