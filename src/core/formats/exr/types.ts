import type { Attribute, Samples, SampleType, Window } from '../../image/picture';
import type { COMPRESSIONS, LEVEL_MODES } from './spec';

export interface ExrChannel {
  name: string;
  type: SampleType;
  /** Perceived linearly: block compression keeps its exponential. */
  linear: boolean;
  /** Every how many pixels, along x and y, there is a sample. */
  xSampling: number;
  ySampling: number;
}

/** How a tiled part is cut up; `x` and `y` in pixels. */
export interface Tiling {
  x: number;
  y: number;
  mode: (typeof LEVEL_MODES)[number];
  roundUp: boolean;
}

/** What one part of a file says about itself, checked for sense and against the file's size. */
export interface ExrHeader {
  /** Empty in files of one part that do not name it. */
  name: string;
  channels: ExrChannel[];
  compression: (typeof COMPRESSIONS)[number];
  dataWindow: Window;
  displayWindow: Window;
  /** Undefined for scan lines. */
  tiling: Tiling | undefined;
  attributes: Map<string, Attribute>;
  /** Where the table of chunk offsets begins, and how many entries it has. */
  tableOffset: number;
  chunkCount: number;
  width: number;
  height: number;
}

/** The headers of all parts. */
export interface ExrHeaders {
  parts: ExrHeader[];
  /** Chunks begin with their part's number. */
  multiPart: boolean;
  /** Where the chunks begin, after all tables. */
  dataOffset: number;
}

/** A channel as it is stored: `columns * rows` samples, row-major, top row first. */
export interface StoredChannel {
  name: string;
  type: SampleType;
  /** Every how many pixels there is a sample. */
  xSampling: number;
  ySampling: number;
  columns: number;
  rows: number;
  samples: Samples;
}

/** One part of a file, exactly as stored. */
export interface StoredPart {
  name: string;
  compression: string;
  tiling: Tiling | undefined;
  dataWindow: Window;
  displayWindow: Window;
  attributes: Map<string, Attribute>;
  channels: StoredChannel[];
  /** Whether pixels of it are missing. */
  isIncomplete: boolean;
  warnings: string[];
}
