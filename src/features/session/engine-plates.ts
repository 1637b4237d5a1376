import type { Role } from '../../core/image/roles';
import { benchEngine, unwrap } from '../../engine/browser/client';
import type { OpenedPlate, SourceBlob } from '../../engine/browser/bench.worker';
import type { StackPart } from '../../engine/messages';

interface OpenPicture {
  opened: Promise<OpenedPlate | null>;
  users: number;
}

/** Pictures that are open in the engine by the engine's id: the shelf, the wipe and references each count as one that shows it. */
const open = new Map<string, OpenPicture>();

interface Wanted {
  id: string;
  name: string;
  files: () => Promise<SourceBlob[]>;
  roles: Record<string, Role>;
  /** Of the sequence. */
  frameNumber?: number | undefined;
}

/** A picture that somebody shows; what nobody shows any more is closed. */
export interface HeldPlate {
  opened: OpenedPlate;
  /** Lets go of it, once. */
  release: () => void;
}

/** Opens a picture, or counts one more that shows it. A picture that cannot be opened is not open. */
export async function holdPlate(wanted: Wanted): Promise<HeldPlate> {
  const { id, name, files, roles, frameNumber } = wanted;
  let picture = open.get(id);
  if (picture) picture.users++;
  else {
    const work = async (): Promise<OpenedPlate> =>
      unwrap(await benchEngine().openPlate(id, name, await files(), roles, frameNumber));
    picture = { opened: work(), users: 1 };
    open.set(id, picture);
  }
  const own = picture;
  let isHeld = true;
  const release = (): void => {
    if (!isHeld) return;
    isHeld = false;
    // Another engine may have the picture by now.
    if (--own.users > 0 || open.get(id) !== own) return;
    open.delete(id);
    void benchEngine().closePlate(id);
  };
  try {
    return { opened: (await own.opened)!, release };
  } catch (error) {
    if (open.get(id) === own) open.delete(id);
    throw error;
  }
}

/** Puts open pictures together as one, which is open until it is let go. */
export async function holdStack(id: string, base: string, parts: readonly StackPart[]): Promise<() => void> {
  const opened = (async (): Promise<null> => unwrap(await benchEngine().stackPlate(id, base, [...parts])))();
  const own: OpenPicture = { opened, users: 1 };
  open.set(id, own);
  try {
    await opened;
  } catch (error) {
    if (open.get(id) === own) open.delete(id);
    throw error;
  }
  return () => {
    if (open.get(id) !== own) return;
    open.delete(id);
    void benchEngine().closePlate(id);
  };
}

export const isOpen = (id: string): boolean => open.has(id);

/** A new engine has nothing open. */
export function forgetOpenPlates(): void {
  open.clear();
}
