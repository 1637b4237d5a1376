import type { GreyImage } from '../image/grey-image';
import type { Kernels } from '../kernels';
import type { RunOptions } from '../kernels/runtime/parallel';
import type { Look, StationId } from '../look/look';
import type { ContentCache } from './cache';
import type { Light } from './light';
import type { Plate } from './plate';

/** Where the light went at a station, as shares of the light that came in. */
export interface EnergyAccount {
  /** Taken from its place and spread. */
  moved: number;
  /** Of it, what fell outside the frame. */
  left: number;
  /** What came out over what came in. */
  gain: number;
}

/** The light that a station's effect may use. */
export interface Feed {
  /** Per pixel, 0 to 1. */
  weight: Float32Array;
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
  cache: ContentCache;
  kernels: Kernels;
  /** Another plate of the shot by its id, for what is laid under this one. */
  backdrop?: ((id: string) => Plate | undefined) | undefined;
  /** An image of the shot by its name, for masks of the pupil and dirt. */
  image?: ((name: string) => GreyImage | undefined) | undefined;
  /** A hand moves: that it is seen at once matters more than its last detail. */
  draft?: boolean | undefined;
  /** Whether every effect is wanted by itself; otherwise those that can be computed at once are. */
  separate?: boolean | undefined;
}

/** A stage on the bench: a pure function of light and look. It reads its own part of the look, and what it declares. */
export interface Station {
  id: StationId;
  label: string;
  /** Whether its switch is on. */
  on(look: Look): boolean;
  /** Everything of the look that its result depends on: its own settings, and those of others that it reads. */
  reads(look: Look): unknown;
  run(light: Light, look: Look, context: StationContext): Promise<StationOutcome>;
}
