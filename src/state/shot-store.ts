import { useStore } from 'zustand';
import { create } from 'zustand';
import { temporal, type TemporalState } from 'zundo';
import { defaultLook, parseLook, setSetting, type Look, type SettingValue } from '../core/look/look';
import type { PlateEntry, PlateFile, Reference, Shot } from '../core/shot/shot';

interface ShotActions {
  /** Changes one setting of the look. A value that does not fit is refused by an error. */
  change: (path: string, value: SettingValue) => void;
  setLook: (look: Look) => void;
  /** Takes what a file tells of its camera, as one step; it is held to what the settings allow. */
  takeCamera: (told: Partial<Look['camera']>) => void;
  rename: (name: string) => void;
  addPlate: (plate: PlateEntry) => void;
  removePlate: (id: string) => void;
  choosePlate: (id: string) => void;
  /** Changes what is known of a plate: its name, version, frame or roles. */
  editPlate: (id: string, change: Partial<Omit<PlateEntry, 'id'>>) => void;
  /** Puts a plate at another place of the shelf. */
  movePlate: (id: string, to: number) => void;
  setReferences: (references: Reference[]) => void;
  setImages: (images: PlateFile[]) => void;
  /** Puts another shot in place of this one and forgets the steps that could be undone. */
  replaceShot: (shot: Shot) => void;
}

export type ShotState = Shot & ShotActions;

/** A drag is one step to undo, however many values it passes. */
const gesture = { open: false, recorded: false };

export function beginGesture(): void {
  gesture.open = true;
  gesture.recorded = false;
}

export function endGesture(): void {
  gesture.open = false;
}

type Undoable = Pick<Shot, 'look' | 'name'>;

/** The shot in memory. Undo covers the look and the shot's name. */
export const useShot = create<ShotState>()(
  temporal(
    (set): ShotState => ({
      name: 'Untitled shot',
      plates: [],
      references: [],
      images: [],
      activePlate: null,
      look: defaultLook(),
      change: (path, value) => set(({ look }) => ({ look: setSetting(look, path, value) })),
      setLook: (look) => set({ look }),
      takeCamera: (told) =>
        set(({ look }) => ({ look: parseLook({ ...look, camera: { ...look.camera, ...told } }) })),
      rename: (name) => set({ name }),
      addPlate: (plate) => set(({ plates }) => ({ plates: [...plates, plate], activePlate: plate.id })),
      removePlate: (id) =>
        set(({ plates, activePlate }) => {
          const rest = plates.filter((plate) => plate.id !== id);
          return { plates: rest, activePlate: activePlate === id ? (rest.at(-1)?.id ?? null) : activePlate };
        }),
      choosePlate: (id) => set({ activePlate: id }),
      editPlate: (id, change) =>
        set(({ plates }) => ({
          plates: plates.map((plate) => (plate.id === id ? { ...plate, ...change } : plate)),
        })),
      movePlate: (id, to) =>
        set(({ plates }) => {
          const moved = plates.find((plate) => plate.id === id);
          const rest = plates.filter((plate) => plate.id !== id);
          return moved ? { plates: [...rest.slice(0, to), moved, ...rest.slice(to)] } : {};
        }),
      setReferences: (references) => set({ references }),
      setImages: (images) => set({ images }),
      replaceShot: ({ name, plates, references, images, activePlate, look }) => {
        set({ name, plates, references, images, activePlate, look });
        useShot.temporal.getState().clear();
      },
    }),
    {
      limit: 200,
      partialize: ({ look, name }): Undoable => ({ look, name }),
      equality: (a, b) => a.look === b.look && a.name === b.name,
      handleSet:
        (record) =>
        (past, ...rest) => {
          if (gesture.open && gesture.recorded) return;
          gesture.recorded = true;
          (record as (...all: unknown[]) => void)(past, ...rest);
        },
    },
  ),
);

/** Reads the undo history, for buttons that show whether there is any. */
export function useHistory<T>(select: (state: TemporalState<Undoable>) => T): T {
  return useStore(useShot.temporal, select);
}
