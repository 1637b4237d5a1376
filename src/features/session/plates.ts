import { create } from 'zustand';
import type { OpenedPlate } from '../../engine/browser/bench.worker';
import type { Quota } from '../../state/autosave';

/** What is known of a plate that is open: what its file holds, and under which id the engine has it. */
export interface PlateCard extends OpenedPlate {
  /** The plate's id in the shot. */
  plate: string;
}

/** What is known of the plates that are open in the engine, by their id in the shot. Pixels stay in the engine. */
interface PlatesState {
  cards: Readonly<Record<string, PlateCard>>;
  /** Small pictures of each plate's passes, by the engine's id. */
  thumbnails: Readonly<Record<string, Readonly<Record<string, ImageBitmap>>>>;
  /** References that are open, by id, with their size. */
  references: Readonly<Record<string, { width: number; height: number; thumbnail: ImageBitmap }>>;
  /** The shot's images that are open, small, by their names. */
  images: Readonly<Record<string, ImageBitmap>>;
  /** Bytes of each file, by id. */
  fileBytes: Readonly<Record<string, number>>;
  quota: Quota | undefined;
  /** Name of the file that is being read, if any. */
  opening: string | null;
  set: (change: Partial<Omit<PlatesState, 'set'>>) => void;
}

export const usePlates = create<PlatesState>()((set) => ({
  cards: {},
  thumbnails: {},
  references: {},
  images: {},
  fileBytes: {},
  quota: undefined,
  opening: null,
  set,
}));

export function without<T>(record: Readonly<Record<string, T>>, id: string): Readonly<Record<string, T>> {
  return Object.fromEntries(Object.entries(record).filter(([key]) => key !== id));
}
