import type { z } from 'zod';
import type { CubeLut } from '../color/lut';
import type { GreyImage } from '../image/grey-image';
import type { Rgb } from '../image/rgb';
import type { Kernels } from '../kernels';
import type { RunOptions } from '../kernels/runtime/parallel';
import type { Look } from '../look/look';
import type { ContentCache } from './cache';
import type { Light } from './light';
import type { Plate } from './plate';
import type { NearbyLights } from './resolved-light';

/** Where the light went at a station, as shares of the light that came in. */
export interface EnergyAccount {
  /** Taken from its place and spread. */
  moved: number;
  /** Of that, what fell outside the frame. */
  lostOutsideFrame: number;
  /** What came out over what came in. */
  gain: number;
}

/** The light that a station's effect may use. */
export interface Feed {
  /** Per pixel, 0 to 1. */
  weight: Float32Array;
  /** The light that feeds. */
  rgb: Rgb;
  /** Share of the pixels that lie less than half a stop under what feeds at all. */
  below: number;
  /** Share of the pixels that feed, and of the light. */
  pixels: number;
  light: number;
}

export interface StationOutcome {
  light: Light;
  account?: EnergyAccount;
  /** What feeds the station, and its parts that have a feed of their own, by their paths. */
  feeds?: Readonly<Record<string, Feed>>;
}

/** What a station may use besides the light and its settings. It keeps no state of its own. */
export interface StationContext extends RunOptions {
  plate: Plate;
  /** The whole of which the plate is a window, if it is one. */
  wholePlate?: Plate | undefined;
  cache: ContentCache;
  kernels: Kernels;
  /** Of a frame of a sequence: the lights of those before and after it. */
  nearbyLights?: readonly NearbyLights[] | undefined;
  /** Another plate of the shot by its id, for what is laid under this one. */
  backdrop?: ((id: string) => Plate | undefined) | undefined;
  /** An image of the shot by its name, for masks of the pupil and dirt. */
  image?: ((name: string) => GreyImage | undefined) | undefined;
  /** A look-up table of the shot by its name. */
  lut?: ((name: string) => CubeLut | undefined) | undefined;
  /** Sends other light of the plate through the stations before the one that runs, as the picture went. */
  throughEarlier?: ((light: Light) => Promise<Light>) | undefined;
  /** A hand moves: that it is seen at once matters more than its last detail. */
  draft?: boolean | undefined;
  /** Only the sum is looked at: what each effect added need not be kept up. */
  totalOnly?: boolean | undefined;
  /** Whether every effect is wanted by itself; otherwise those that can be computed at once are. */
  separate?: boolean | undefined;
  /** Parts, by their names, whose amounts are about to vary: what they scatter is kept apart, so that it is computed once. */
  apart?: readonly string[] | undefined;
}

/**
 * What a station does to light: a pure function of light, look and context. It keeps no state, and reads nothing of the
 * look but what {@link reads} gives.
 */
export interface StationEffect {
  /** Whether there is anything to do. */
  isActive(look: Look): boolean;
  /**
   * Everything of the look that the result depends on, the station's own settings and those of others, and of the frames near the one
   * that is computed. It becomes part of the result's key.
   */
  reads(look: Look, nearby: Pick<StationContext, 'nearbyLights'>): unknown;
  /**
   * How far the effect carries light, in pixels at a scale: 0 if every pixel stays where it is, the largest radius of a
   * blur, or Infinity for scatter over the whole picture that is smooth far from its source.
   */
  reach(look: Look, scale: number, context: StationContext): number | Promise<number>;
  /** Whether a part of the picture cannot be computed by itself. */
  needsWhole?(look: Look): boolean;
  run(light: Light, look: Look, context: StationContext): Promise<StationOutcome>;
}

/** A stage on the bench. Its settings stand in the look under its id. */
export interface StationDefinition<Id extends string = string, Settings extends z.ZodType = z.ZodType> {
  id: Id;
  /** Name in the interface, sentence case. */
  label: string;
  /** Made by `section`. With a setting `on`, the station has a switch. */
  settings: Settings;
  /** Sections of the look besides its own that belong to its panel. */
  shows?: readonly string[];
  /** What it does to the scene's light, right behind the plate and before any lens. */
  scene?: StationEffect;
  /** Missing if other stations use its settings. */
  effect?: StationEffect;
}
