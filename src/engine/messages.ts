import type { EnergyAccount } from '../core/bench/station';
import type { Region } from '../core/bench/region';
import type { PassKind } from '../core/image/passes';
import type { SampleType } from '../core/image/picture';
import type { Look, StationId } from '../core/look/look';
import type { PrintFormat } from '../core/print/print';

/** What a person may look at. */
export type Subject =
  | { kind: 'final' }
  /** The light as it is behind a station. */
  | { kind: 'behind'; station: StationId }
  /** The picture greyed, what feeds the veil painted over it. */
  | { kind: 'feed' }
  /** One effect alone. */
  | { kind: 'separation'; name: string };

/** Requests of one lane replace each other; lanes do not disturb each other. */
export type Lane = 'view' | 'compare' | 'print';

export interface ShowRequest {
  lane: Exclude<Lane, 'print'>;
  plate: string;
  look: Look;
  /** Share of the plate's full size. */
  scale: number;
  subject: Subject;
  /** Exposure of the view alone, in stops. */
  viewExposure: number;
}

export interface Shown {
  width: number;
  height: number;
  scale: number;
  /** Opaque RGBA, `width * height`. */
  pixels: Uint8ClampedArray<ArrayBuffer>;
  accounts: Partial<Record<StationId, EnergyAccount>>;
  /** What feeds the veil: shares of pixels and of light. */
  feed: { pixels: number; light: number } | undefined;
  milliseconds: number;
}

export interface PlateInfo {
  id: string;
  name: string;
  width: number;
  height: number;
  compression: string;
  sampleType: SampleType;
  passes: { name: string; kind: PassKind; channels: string[]; light: boolean }[];
  beauty: string;
  depth: string | undefined;
  /** Samples that were not finite. */
  nan: number;
  infinite: number;
  /** Bytes the samples take in memory. */
  bytes: number;
  warnings: string[];
  thumbnail: { width: number; height: number; pixels: Uint8ClampedArray<ArrayBuffer> };
}

export interface PrintRequest {
  plate: string;
  look: Look;
  format: PrintFormat;
  region?: Region;
}

/** Values under one pixel of the full-size picture. */
export interface PixelReading {
  /** Scene-linear, of what is shown. */
  rgb: [number, number, number];
  /** Planar distance in the file's unit, if the plate has depth. */
  depth: number | undefined;
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
