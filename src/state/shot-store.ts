import { useStore } from 'zustand';
import { create } from 'zustand';
import { temporal, type TemporalState } from 'zundo';
import { getSetting, parseLook, SETTINGS, setSetting, type Look, type SettingValue } from '../core/look/look';
import { NO_COLOUR, NO_IMAGE } from '../core/settings/setting';
import { carryChange, withPlaces } from '../core/look/track-edits';
import { lookAt, type Tracks } from '../core/look/tracks';
import { elementOf } from '../core/settings/element';
import type { Reel } from '../core/shot/reel';
import {
  EMPTY_SHOT,
  partsOfPlates,
  plateUnder,
  type FollowedLook,
  type PlateEntry,
  type PlateFile,
  type Proof,
  type Reference,
  type Shot,
} from '../core/shot/shot';

export { EMPTY_SHOT };

interface ShotActions {
  /** Changes one setting of the look. A value that does not fit is refused by an error. */
  change: (path: string, value: SettingValue) => void;
  setLook: (look: Look) => void;
  /** Changes what changes over time; the look is what it makes of it at the playhead. */
  setTracks: (tracks: Tracks) => void;
  /** Both at once, as one step. */
  setLookOverTime: (look: Look, tracks: Tracks) => void;
  setReel: (change: Partial<Omit<Reel, 'playhead'>>) => void;
  /** Looks at a frame. No step. */
  setPlayhead: (frame: number) => void;
  /** Follows a shared look, or none; with the look that comes of it, as one step. */
  follow: (follows: FollowedLook | null, look?: Look) => void;
  /** Takes what a file tells of its camera, as one step; it is held to what the settings allow. */
  takeCamera: (told: Partial<Look['camera']>) => void;
  rename: (name: string) => void;
  addPlate: (plate: PlateEntry) => void;
  /** Takes a plate off the shelf; where it lay under the picture there is nothing any more. */
  removePlate: (id: string) => void;
  /** Lays a plate over all that another is made of, as its element. */
  addElement: (whole: string, plate: PlateEntry) => void;
  /** Puts an element at another place of its plate, 0 being the back, with what the look says of it. */
  moveElement: (whole: string, from: number, to: number) => void;
  choosePlate: (id: string) => void;
  /** Changes what is known of a plate: its name, version, frame or roles. */
  editPlate: (id: string, change: Partial<Omit<PlateEntry, 'id'>>) => void;
  /** Puts a plate at another place of the shelf. */
  movePlate: (id: string, to: number) => void;
  setReferences: (references: Reference[]) => void;
  /** Proofs are no steps: what was saved stays, whatever is undone. */
  setProofs: (proofs: Proof[]) => void;
  /** Takes an image in, and names it in the setting at a path. */
  addImage: (image: PlateFile, path: string) => void;
  /** Takes an image out; settings that name it have none any more. */
  removeImage: (id: string) => void;
  /** Puts another shot in place of this one, as one step. */
  replaceShot: (shot: Shot) => void;
}

export type ShotState = Steps & ShotActions;

/** What undo covers: the shot, and which of those that were opened one after the other it is. */
interface Steps extends Shot {
  opened: number;
}

/** A drag: one step to undo, however many values it passes. */
export interface Gesture {
  /** Whether its step is on record. */
  recorded: boolean;
  /** It was undone while the hand still moved: what it goes on to say counts no more. */
  givenUp: boolean;
}

let gesture: Gesture | undefined;

export function beginGesture(): Gesture {
  return (gesture = { recorded: false, givenUp: false });
}

/** Ends a drag; one that another has followed is over already. Without one, ends whichever there is. */
export function endGesture(which: Gesture | undefined = gesture): void {
  if (which === gesture) gesture = undefined;
}

/** The shot without what can be done with it. */
export const shotOf = ({
  name,
  plates,
  references,
  images,
  proofs,
  activePlate,
  look,
  tracks,
  reel,
  follows,
}: Shot): Shot => ({
  name,
  plates,
  references,
  images,
  proofs,
  activePlate,
  look,
  tracks,
  reel,
  follows,
});

/** Whether two plates differ at most in the frame that is on the bench. */
const sameButFrame = (a: PlateEntry, b: PlateEntry | undefined): boolean =>
  a === b ||
  (b !== undefined &&
    a.id === b.id &&
    a.name === b.name &&
    a.versions === b.versions &&
    a.version === b.version &&
    a.roles === b.roles &&
    a.elements === b.elements);

const sameButPlayhead = (a: Reel, b: Reel): boolean =>
  a === b || JSON.stringify({ ...a, playhead: 0 }) === JSON.stringify({ ...b, playhead: 0 });

/** Which plate and frame is looked at is no step. */
function isSameStep(a: Shot, b: Shot): boolean {
  return (
    a.look === b.look &&
    a.name === b.name &&
    a.references === b.references &&
    a.images === b.images &&
    a.tracks === b.tracks &&
    sameButPlayhead(a.reel, b.reel) &&
    a.follows === b.follows &&
    a.plates.length === b.plates.length &&
    a.plates.every((plate, index) => sameButFrame(plate, b.plates[index]))
  );
}

/** The shot in memory. Undo covers all of it but which plate and frame is looked at. */
export const useShot = create<ShotState>()(
  temporal(
    (write, get): ShotState => {
      /** Changes the shot, but for the rest of a drag that was undone. */
      const set = (change: (shot: ShotState) => Partial<Steps>): void => {
        if (!gesture?.givenUp) write((shot) => carried(shot, change(shot)));
      };
      return {
        ...EMPTY_SHOT,
        opened: 0,
        change: (path, value) => {
          const next = setSetting(get().look, path, value);
          if (!isSameValue(getSetting(get().look, path), getSetting(next, path))) set(() => ({ look: next }));
        },
        setLook: (look) => set(() => ({ look })),
        setTracks: (tracks) =>
          set(({ look, reel }) => ({ tracks, look: lookAt(look, tracks, reel.playhead) })),
        setLookOverTime: (look, tracks) =>
          set(({ reel }) => ({ look: lookAt(look, tracks, reel.playhead), tracks })),
        setReel: (change) => set(({ reel }) => ({ reel: { ...reel, ...change } })),
        setPlayhead: (playhead) => {
          const { reel, look, tracks } = get();
          if (playhead === reel.playhead) return;
          withoutStep(() => write({ reel: { ...reel, playhead }, look: lookAt(look, tracks, playhead) }));
        },
        follow: (follows, look = get().look) => set(() => ({ follows, look })),
        takeCamera: (told) =>
          set(({ look }) => ({ look: parseLook({ ...look, camera: { ...look.camera, ...told } }) })),
        rename: (name) => set(() => ({ name })),
        addPlate: (plate) => set(({ plates }) => ({ plates: [...plates, plate], activePlate: plate.id })),
        removePlate: (id) =>
          set(({ plates, activePlate, look, tracks }) => {
            const gone = plates.find((plate) => plate.id === id);
            const isGone = (one: string): boolean => one === id || (gone?.elements.includes(one) ?? false);
            const rest = plates
              .filter((plate) => !isGone(plate.id))
              .map((plate) => withoutElement(plate, id));
            const under = plateUnder(look);
            const onBench = plates.find((plate) => plate.id === activePlate);
            const place = onBench && !isGone(onBench.id) ? onBench.elements.indexOf(id) : -1;
            const left =
              place < 0 ? look : { ...look, elements: look.elements.filter((_, k) => k !== place) };
            return {
              ...(place >= 0 && {
                tracks: withPlaces(tracks, 'elements', (k) =>
                  k === place ? undefined : k > place ? k - 1 : k,
                ),
              }),
              plates: rest,
              activePlate: activePlate && isGone(activePlate) ? lastWhole(rest) : activePlate,
              look: under && isGone(under) ? setSetting(left, 'plate.background', NO_COLOUR) : left,
            };
          }),
        addElement: (whole, plate) =>
          set(({ plates }) => ({
            plates: [
              ...plates.map((one) =>
                one.id === whole ? { ...one, elements: [...stackIds(one), plate.id] } : one,
              ),
              plate,
            ],
          })),
        moveElement: (whole, from, to) =>
          set(({ plates, look, tracks }) => {
            const plate = plates.find(({ id }) => id === whole);
            const count = plate?.elements.length ?? 0;
            if (!plate || from === to || from >= count || to >= count) return {};
            const settings = stackIds(plate).map((_, k) => elementOf(look, k));
            return {
              plates: plates.map((one) =>
                one === plate ? { ...one, elements: moved(plate.elements, from, to) } : one,
              ),
              look: { ...look, elements: moved(settings, from, to) },
              tracks: withPlaces(tracks, 'elements', (k) => moved([...settings.keys()], from, to).indexOf(k)),
            };
          }),
        choosePlate: (id) => set(() => ({ activePlate: id })),
        editPlate: (id, change) =>
          set(({ plates }) => ({
            plates: plates.map((plate) => (plate.id === id ? { ...plate, ...change } : plate)),
          })),
        movePlate: (id, to) =>
          set(({ plates }) => {
            const from = plates.findIndex((plate) => plate.id === id);
            return from < 0 ? {} : { plates: moved(plates, from, to) };
          }),
        setReferences: (references) => set(() => ({ references })),
        setProofs: (proofs) => write({ proofs }),
        addImage: (image, path) =>
          set(({ images, look }) => ({
            images: [...images, image],
            look: setSetting(look, path, image.name),
          })),
        removeImage: (id) =>
          set(({ images, look }) => {
            const name = images.find((image) => image.id === id)?.name;
            const naming = SETTINGS.filter(
              ({ kind, path }) => kind === 'image' && getSetting(look, path) === name,
            );
            return {
              images: images.filter((image) => image.id !== id),
              look: naming.reduce((left, { path }) => setSetting(left, path, NO_IMAGE), look),
            };
          }),
        replaceShot: (shot) => set(({ opened }) => ({ ...shotOf(shot), opened: opened + 1 })),
      };
    },
    {
      limit: 200,
      partialize: (state): Steps => ({ ...shotOf(state), opened: state.opened }),
      equality: isSameStep,
      handleSet:
        (record) =>
        (past, ...rest) => {
          if (gesture?.recorded) return;
          if (gesture) gesture.recorded = true;
          (record as (...all: unknown[]) => void)(past, ...rest);
        },
    },
  ),
);

/** Changes the shot without a step. */
function withoutStep(change: () => void): void {
  const { pause, resume } = useShot.temporal.getState();
  pause();
  change();
  resume();
}

/** A change of the look, as it is over time: settings that have tracks get keys at the playhead. */
function carried(shot: Steps, change: Partial<Steps>): Partial<Steps> {
  const { look, tracks = shot.tracks, reel = shot.reel } = change;
  if (!look || look === shot.look || change.opened !== undefined) return change;
  if (change.tracks) return { ...change, look: lookAt(look, tracks, reel.playhead) };
  return { ...change, ...carryChange(tracks, { before: shot.look, after: look, frame: reel.playhead }) };
}

/** The ids of what a plate is made of, back to front. */
const stackIds = ({ id, elements }: PlateEntry): string[] => (elements.length ? elements : [id]);

/** A list with one of its things at another place. */
function moved<T>(list: readonly T[], from: number, to: number): T[] {
  const rest = list.filter((_, k) => k !== from);
  return [...rest.slice(0, to), list[from]!, ...rest.slice(to)];
}

/** A plate without one of its elements; what is left alone is no stack any more. */
function withoutElement(plate: PlateEntry, id: string): PlateEntry {
  if (!plate.elements.includes(id)) return plate;
  const elements = plate.elements.filter((one) => one !== id);
  return { ...plate, elements: elements.length > 1 ? elements : [] };
}

/** The plate that comes to the bench when another leaves it: the last that is no element. */
function lastWhole(plates: readonly PlateEntry[]): string | null {
  const parts = partsOfPlates(plates);
  return plates.findLast(({ id }) => !parts.has(id))?.id ?? null;
}

const isSameValue = (a: SettingValue, b: SettingValue): boolean =>
  a === b || (typeof a === 'object' && JSON.stringify(a) === JSON.stringify(b));

/** Puts a shot in place of all there was; nothing can be undone. */
export function startShot(shot: Shot): void {
  useShot.getState().replaceShot(shot);
  useShot.temporal.getState().clear();
}

export const undo = (): void => travel('undo');
export const redo = (): void => travel('redo');

/** Goes a step back or forth. A drag is given up first: its step is the one that is taken back. */
function travel(direction: 'undo' | 'redo'): void {
  const dragged = gesture;
  // What a hand holds without having moved it yet goes on.
  gesture = undefined;
  const before = useShot.getState();
  useShot.temporal.getState()[direction]();
  const after = useShot.getState();
  withoutStep(() =>
    useShot.setState({
      ...keepWhatIsLookedAt(before, after),
      ...(after.opened === before.opened && { proofs: before.proofs }),
    }),
  );
  if (dragged) gesture = Object.assign(dragged, { givenUp: true });
}

/** Plates keep their frame, and the one on the bench stays there unless the step brought another back. */
function keepWhatIsLookedAt(
  before: Steps,
  after: Steps,
): Pick<Shot, 'plates' | 'activePlate' | 'reel' | 'look'> {
  const old = new Map(before.plates.map((plate) => [plate.id, plate]));
  const plates = after.plates.map((plate) => {
    const known = old.get(plate.id);
    if (!known || known.versions !== plate.versions || known.version !== plate.version) return plate;
    return sameButFrame(plate, known) ? known : { ...plate, frame: known.frame };
  });
  const has = (id: string | null): boolean => plates.some((plate) => plate.id === id);
  const parts = partsOfPlates(plates);
  const brought = plates.some(({ id }) => !old.has(id) && !parts.has(id));
  const kept = brought || !has(before.activePlate) ? after.activePlate : before.activePlate;
  // Another shot is looked at where it was.
  const { playhead } = (after.opened === before.opened ? before : after).reel;
  return {
    plates,
    activePlate: has(kept) ? kept : lastWhole(plates),
    reel: { ...after.reel, playhead },
    look: lookAt(after.look, after.tracks, playhead),
  };
}

/** Every state of the shot that undo or redo can reach, the present one first. */
export function reachableShots(): Shot[] {
  const { pastStates, futureStates } = useShot.temporal.getState();
  return [useShot.getState(), ...([...pastStates, ...futureStates] as Shot[])];
}

/** Reads the undo history, for buttons that show whether there is any. */
export function useHistory<T>(select: (state: TemporalState<Shot>) => T): T {
  return useStore(useShot.temporal, select);
}
