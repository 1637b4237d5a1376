import { create } from 'zustand';
import { fileStem } from '../../core/image/file-names';
import { elementsOfPlate, type PlateEntry } from '../../core/shot/shot';
import type { OpenedPlate } from '../../engine/browser/bench.worker';
import { useShot } from '../../state/shot-store';
import type { Quota } from '../../state/storage';

/** What is known of a plate that is open: what its file holds, and under which id the engine has it. */
export interface PlateCard extends OpenedPlate {
  /** The plate's id in the shot. */
  plate: string;
  /** The engine's id of its own render, where the plate is made of several: its {@link id} is that of all together. */
  own?: string;
  /** What it was put together of. */
  parts?: string;
  /** What of the plate it is, and as what its passes were read. */
  of: Pick<PlateEntry, 'version' | 'frame' | 'roles'>;
  /** Another number for everything else that is shown of a plate. */
  revision: number;
}

/** What is known of the plates that are open in the engine, by their id in the shot. Pixels stay in the engine. */
interface PlatesState {
  cards: Readonly<Record<string, PlateCard>>;
  /** What could not be opened, by the id of the plate, reference or image: what was wanted of it, and why it failed. */
  failures: Readonly<Record<string, { wanted: string; line: string }>>;
  /** Small pictures of each plate's passes, by the engine's id. */
  thumbnails: Readonly<Record<string, Readonly<Record<string, ImageBitmap>>>>;
  /** References that are open, by id, with their size. */
  references: Readonly<Record<string, { width: number; height: number; thumbnail: ImageBitmap }>>;
  /** The shot's images that are open, small, by their ids. */
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
  failures: {},
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

/** An element of the plate on the bench, by the name that settings have for it. */
interface NamedCard {
  name: string;
  card: PlateCard;
}

/** The elements of the plate on the bench, if it is made of several. */
export function useOtherElements(): NamedCard[] {
  const activePlate = useShot((state) => state.activePlate);
  const plates = useShot((state) => state.plates);
  const cards = usePlates((state) => state.cards);
  const plate = plates.find(({ id }) => id === activePlate);
  if (!plate?.elements?.length) return [];
  return elementsOfPlate(plate, plates).flatMap(({ id, name }) => {
    const card = cards[id];
    return card ? [{ name: fileStem(name), card }] : [];
  });
}

const mattesOf = ({ passes }: PlateCard): string[] =>
  passes.filter(({ kind }) => kind === 'matte').flatMap(({ channels }) => channels);

/** Channels of the mattes of the plate on the bench; of several elements each as a whole and its own as well. */
export function useMattes(): string[] {
  const activePlate = useShot((state) => state.activePlate);
  const card = usePlates((state) => (activePlate ? state.cards[activePlate] : undefined));
  const elements = useOtherElements();
  const own = card ? mattesOf(card) : [];
  const others = elements.flatMap((one) => [
    one.name,
    ...mattesOf(one.card).map((channel) => `${one.name}:${channel}`),
  ]);
  return [...new Set([...own, ...others])];
}
