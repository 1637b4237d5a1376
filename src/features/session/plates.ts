import { create } from 'zustand';
import type { PlateCard } from '../../engine/browser/bench.worker';

/** What is known of the plates that are open in the engine, by id. Pixels stay in the engine. */
interface PlatesState {
  cards: Readonly<Record<string, PlateCard>>;
  /** Name of the file that is being read, if any. */
  opening: string | null;
  put: (card: PlateCard) => void;
  drop: (id: string) => void;
  setOpening: (name: string | null) => void;
}

export const usePlates = create<PlatesState>()((set) => ({
  cards: {},
  opening: null,
  put: (card) => set(({ cards }) => ({ cards: { ...cards, [card.id]: card } })),
  drop: (id) =>
    set(({ cards }) => ({ cards: Object.fromEntries(Object.entries(cards).filter(([key]) => key !== id)) })),
  setOpening: (opening) => set({ opening }),
}));
