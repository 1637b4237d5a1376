import type { Triple } from '../core/color/primaries';
import type { OutOfRange } from '../core/color/range-warning';
import type { NearbyLights } from '../core/light/resolved-light';
import type { EnergyAccount } from '../core/light/station';
import type { RgbaImage } from '../core/image/rgba';
import type { Rectangle } from '../core/image/rectangle';
import type { PassKind } from '../core/image/passes';
import type { Role } from '../core/image/roles';
import type { SampleType } from '../core/image/picture';
import type { Camera } from '../core/optics/camera';
import type { Look, StationId } from '../core/look/look';
import type { FeedFacts } from '../core/stations/veil/feed-facts';
import type { QueryInput, QueryName } from '../core/bench/queries';
import type { PrintAlpha } from '../core/print/alpha';
import type { PrintFormat, PrintPrimaries } from '../core/print/print';

/** What a person may look at. */
export type Subject =
  | { kind: 'final' }
  /** The light as it is behind a station. */
  | { kind: 'behind'; station: StationId }
  /** The picture greyed, what feeds the veil, or a part of it by a feed of its own, painted over it. */
  | { kind: 'feed'; part?: string }
  /** One effect alone. */
  | { kind: 'separation'; name: string }
  /** A pass as it came in, or one of its channels alone. */
  /** Of a plate of several elements: of which, from the back. */
  | { kind: 'pass'; pass: string; channel?: string; element?: number }
  /** The beauty, the sum of the passes, or their difference. */
  | { kind: 'rebuild'; part: 'beauty' | 'sum' | 'difference'; element?: number }
  /** The pixels that clean-up touched, painted over the picture. */
  | { kind: 'cleaned' }
  /** What is in focus, before and behind it, as tints. */
  | { kind: 'sharpness' }
  /** The final less that of another look, about grey, so many stops up. */
  | { kind: 'difference'; gain: number }
  /** What is finer than its surroundings, drawn out: grain and bands. */
  | { kind: 'grain' }
  /** A mask, painted over the picture. */
  | { kind: 'mask'; mask: string };

/** Requests of one lane replace each other; lanes do not disturb each other. */
export type Lane =
  'view' | 'compare' | 'trial' | 'looks' | 'strip' | 'reel' | 'proof' | 'print' | 'printReel';

export interface ShowRequest {
  lane: Exclude<Lane, 'print'>;
  plate: string;
  look: Look;
  /** Share of the plate's full size. */
  scale: number;
  subject: Subject;
  /** Only these pixels of the full-size picture, computed by themselves at full size. */
  region?: Rectangle;
  /** The lights of the frames near it, of a sequence. */
  nearbyLights?: readonly NearbyLights[];
  /** A hand moves: less detail will do. */
  draft?: boolean;
  /** Exposure of the view alone, in stops. */
  viewExposure: number;
  /** Light as colours by stops instead of through the film's view. */
  falseColour?: boolean;
  /** The screen has the primaries of P3: the sRGB view uses them. */
  displayP3?: boolean;
  /** What the display cannot show is painted over. */
  rangeWarning?: boolean;
  /** What a difference is taken from. */
  against?: Look;
  /** A gain for each channel of the view. */
  gains?: Triple;
  /** Parts of the veil whose amounts vary from one request to the next. */
  apart?: readonly string[];
}

export interface Shown {
  width: number;
  height: number;
  scale: number;
  /** Opaque RGBA, `width * height`. */
  pixels: Uint8ClampedArray<ArrayBuffer>;
  /** What the pixels are in, sRGB unless it is said. */
  colourSpace?: 'display-p3' | undefined;
  accounts: Partial<Record<StationId, EnergyAccount>>;
  /** What feeds the veil: shares of pixels and of light, and, of pictures at their full quality, what it is. */
  feed: FeedReport | undefined;
  /** Of the veil's parts that have a feed of their own, by their paths. */
  ownFeeds: Readonly<Record<string, FeedReport>>;
  /** Pixels of the full-size picture that the plate's cleaning touched. */
  touched: { despiked: number; clamped: number } | undefined;
  /** What is to be said of the subject in figures. */
  report:
    | {
        range?: [min: number, max: number];
        difference?: { max: number; mean: number };
        /** 1.4826 times the median deviation of the display's values from their means, in focus and out of it. */
        /** Shares of the pixels that the display cannot show. */
        outOfRange?: OutOfRange;
        grain?: { sharp: number | undefined; blurred: number | undefined };
      }
    | undefined;
  /** The pixels of the full-size picture that this is, if not all. */
  region?: Rectangle;
  milliseconds: number;
}

export interface FeedReport extends Partial<FeedFacts> {
  pixels: number;
  light: number;
}

/** One file of a plate. */
export interface SourceFile {
  name: string;
  /** The older render that it belongs to, for people; it stands in for passes that the newest lacks. */
  older?: string | undefined;
  /** Reads its bytes; they are read one file at a time and not kept. */
  read: () => Promise<Uint8Array>;
}

export interface PlateInfo {
  id: string;
  name: string;
  width: number;
  height: number;
  compression: string;
  sampleType: SampleType;
  passes: PassInfo[];
  beauty: string;
  depth: string | undefined;
  /** Whether the beauty has alpha that is not 1 everywhere. */
  hasAlpha: boolean;
  /** Samples that were not finite. */
  nan: number;
  infinite: number;
  /** Bytes the samples take in memory. */
  bytes: number;
  /** Whether pixels are missing, as in a file that is still being written. */
  isIncomplete: boolean;
  warnings: string[];
  thumbnail: RgbaImage;
  /** The frame in pixels of the picture; beyond it lies overscan. */
  frame: Rectangle;
  /** What the file's attributes tell of the camera. */
  camera: Partial<Camera>;
  /** Whether values end at a display's white. */
  range: 'scene' | 'display';
}

/** One element of a plate: a plate that is open by itself, or one that has nothing at this frame. */
export type StackPart = { id: string } | { missing: string };

export interface PassInfo {
  name: string;
  kind: PassKind;
  role: Role;
  /** Why it is not taken for light that adds up, though it may be. */
  doubt?: string | undefined;
  /** The older render that it is of, if the newest has none. */
  older?: string | undefined;
  /** Full names. */
  channels: string[];
  light: boolean;
  /** Adds up to the beauty. */
  component: boolean;
}

export interface PrintRequest {
  /** A reel that is printed does not mind a single picture that is. */
  lane?: 'print' | 'printReel';
  plate: string;
  look: Look;
  /** The lights of the frames near it, of a sequence. */
  nearbyLights?: readonly NearbyLights[];
  format: PrintFormat;
  /** Primaries of scene-linear files. */
  primaries?: PrintPrimaries;
  /** The light as it is before Film instead of the final. */
  beforeFilm?: boolean;
  /** Of flat files. */
  alpha?: PrintAlpha;
  /** Pixels that the frame is across, if not its own. */
  width?: number;
  region?: Rectangle;
}

/** Values under one pixel of the full-size picture. */
export interface PixelReading {
  /** Scene-linear, of what is shown. */
  rgb: [number, number, number];
  /** Planar distance in metres as the look reads the depth, if the plate has one. */
  depth: number | undefined;
  /** Diameter of the blur disc in pixels of the full-size picture, negative before the focus; 0 while Focus is off. */
  blur: number | undefined;
}

/** A question of a station's panel: its name, the look, what else it asks, and the plate it is about. */
export interface QueryRequest<Name extends QueryName = QueryName> {
  name: Name;
  look: Look;
  input: QueryInput<Name>;
  plate?: string | undefined;
}

/** An error as it crosses to the page: which kind, and the words of it. */
export interface Failure {
  kind: 'input' | 'setting' | 'cancelled' | 'fault';
  what: string;
  where: string | undefined;
  todo: string | undefined;
}

/** A result, or why there is none. */
export type Outcome<T> = { value: T } | { failure: Failure };
