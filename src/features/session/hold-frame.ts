import { elementsOfPlate, frameAmongElements, plateUnder, type PlateEntry } from '../../core/shot/shot';
import { placeAt } from '../../core/shot/reel';
import type { StackPart } from '../../engine/messages';
import { useShot } from '../../state/shot-store';
import { holdStack } from './engine-plates';
import { engineId, openEntry } from './open-plates';
import { plateOnBench } from '../../state/reel-shown';

/** A frame of the plate on the bench, open in the engine. */
export interface HeldFrame {
  /** The engine's id of the plate with all its elements, and of what lies under it. */
  id: string;
  under: string | undefined;
  /** Lets go of it, once. */
  release: () => void;
}

let stacks = 0;

/** What the bench has at a frame: the plate, its elements, and what lies under the picture; undefined stands for an element that is not there. */
export function entriesAt(
  at: number,
): { plate: PlateEntry; parts: (PlateEntry | undefined)[]; under: PlateEntry | undefined } | undefined {
  const { plates, look } = useShot.getState();
  const onBench = plateOnBench();
  if (!onBench) return undefined;
  const plate = { ...onBench, frame: placeAt(onBench, at) };
  const parts = elementsOfPlate(plate, plates).map((element) => {
    if (element.id === plate.id) return plate;
    const frame = frameAmongElements(element, plate);
    return frame === undefined ? undefined : { ...element, frame };
  });
  const under = plates.find(({ id }) => id === plateUnder(look));
  return { plate, parts, under: under && { ...under, frame: placeAt(under, at) } };
}

/** What tells whether two frames have the same files, read the same. */
export function filesAt(at: number): unknown {
  const found = entriesAt(at);
  if (!found) return null;
  return [found.plate, ...found.parts, found.under].map((entry) => entry && [engineId(entry), entry.roles]);
}

/** Opens a frame of what is on the bench beside what is shown. Throws what keeps it from being opened. */
export async function holdFrame(at: number): Promise<HeldFrame | undefined> {
  const found = entriesAt(at);
  if (!found) return undefined;
  const releases: (() => void)[] = [];
  const release = (): void =>
    releases
      .splice(0)
      .reverse()
      .forEach((letGo) => letGo());
  const hold = async (entry: PlateEntry): Promise<string> => {
    const held = await openEntry(entry);
    releases.push(held.release);
    return held.opened.id;
  };
  try {
    const own = await hold(found.plate);
    const under = found.under && (await hold(found.under));
    if (found.parts.length <= 1) return { id: own, under, release };
    const parts: StackPart[] = [];
    for (const [k, part] of found.parts.entries())
      parts.push(
        part ? { id: part === found.plate ? own : await hold(part) } : { missing: nameOf(found.plate, k) },
      );
    const id = `frame stack ${++stacks} of ${own}`;
    releases.push(await holdStack(id, own, parts));
    return { id, under, release };
  } catch (error) {
    release();
    throw error;
  }
}

function nameOf(plate: PlateEntry, place: number): string {
  const id = plate.elements[place];
  return useShot.getState().plates.find((one) => one.id === id)?.name ?? 'element';
}
