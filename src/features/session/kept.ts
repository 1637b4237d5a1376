import { create } from 'zustand';
import { filesOf, type Shot } from '../../core/shot/shot';
import { ownSeat, takenSeats } from '../../state/seat';
import { reachableShots, shotOf, useShot } from '../../state/shot-store';
import {
  earlierShots,
  isDocumentKept,
  keepEarlier,
  saveDocument,
  saveDocumentNow,
  type KeptShot,
} from '../../state/storage';
import { forgetUnused, keepAgain } from './files';
import { errorLine, notify } from './notices';

/** A change is kept at the latest so long after it was made; more that come meanwhile are kept with it. */
const SAVE_AFTER_MS = 250;
/** The store is looked into so often: the browser, or the person, may have cleared it. */
const CHECK_MS = 4000;

/** What is known of the shots that this browser keeps. */
export const useKept = create<{ earlier: readonly KeptShot[] }>()(() => ({ earlier: [] }));

export const currentShot = (): Shot => shotOf(useShot.getState());

/** Ids of the files that the shot, a step of it or an earlier shot names. */
function filesInUse(): Set<string> {
  const shots = [...reachableShots(), ...useKept.getState().earlier.map(({ shot }) => shot)];
  return new Set(shots.flatMap((shot) => filesOf(shot).map(({ id }) => id)));
}

/** Removes files that nothing names. What another tab's steps name is not known here: with one there, nothing goes. */
export async function makeRoom(): Promise<void> {
  if ((await takenSeats()).size <= 1) await forgetUnused(filesInUse());
}

export async function loadEarlier(): Promise<void> {
  useKept.setState({ earlier: await earlierShots() });
}

/** Keeps the present shot as an earlier one before another takes its place; an untouched one is not worth it. */
export async function keepAsEarlier(): Promise<void> {
  const shot = currentShot();
  if (shot.plates.length === 0) return;
  try {
    await keepEarlier(shot);
    await loadEarlier();
  } catch (error) {
    notify(
      `${shot.name} could not be kept besides the new shot (${errorLine(error)}); undo brings it back`,
      'warning',
    );
  }
}

let timer: ReturnType<typeof setTimeout> | undefined;
let saving: Promise<void> | undefined;
let isDirty = false;
let isStopped = true;
let hasFailed = false;

function schedule(): void {
  isDirty = true;
  timer ??= setTimeout(() => {
    timer = undefined;
    void saveNow();
  }, SAVE_AFTER_MS);
}

/** Keeps the shot as it is now; resolves when it is kept. */
export function saveNow(): Promise<void> {
  saving ??= (async () => {
    try {
      await saveWhileDirty();
    } finally {
      saving = undefined;
    }
  })();
  return saving;
}

async function saveWhileDirty(): Promise<void> {
  while (isDirty) {
    const seat = ownSeat();
    if (isStopped || seat === undefined) return;
    isDirty = false;
    try {
      await saveDocument(currentShot(), seat);
      hasFailed = false;
    } catch (error) {
      if (!hasFailed)
        notify(
          `the shot could not be kept in this browser: save it to a file (${errorLine(error)})`,
          'warning',
        );
      hasFailed = true;
    }
  }
}

/** The page is hidden or left: what was not kept yet is kept at once. */
function saveLeaving(): void {
  const seat = ownSeat();
  if (isStopped || seat === undefined || !(isDirty || saving)) return;
  saveDocumentNow(currentShot(), seat);
  isDirty = true;
  void saveNow();
}

/** Looks whether everything is still kept, and keeps it anew if not. */
async function checkStore(): Promise<void> {
  const seat = ownSeat();
  if (isStopped || seat === undefined) return;
  try {
    const lacksDocument = !(await isDocumentKept(seat));
    const files = reachableShots().flatMap((shot) => filesOf(shot));
    const count = await keepAgain(files);
    if (!lacksDocument && count === 0) return;
    isDirty = true;
    await saveNow();
    notify('what this browser kept of the shot was cleared; all that is open has been kept anew', 'warning');
  } catch {
    // A store that cannot be read tells so when something is saved.
  }
}

let hasStarted = false;

/** Keeps the shot from now on, whenever it changes. */
export function startKeeping(): void {
  isStopped = false;
  isDirty = true;
  void saveNow();
  if (hasStarted) return;
  hasStarted = true;
  useShot.subscribe(schedule);
  if (typeof window !== 'undefined') watchPage();
}

/** Looks after the store while the page is open, and keeps what is not kept yet when it is left. */
function watchPage(): void {
  setInterval(() => void checkStore(), CHECK_MS);
  document.addEventListener('visibilitychange', () => {
    if (document.visibilityState === 'hidden') saveLeaving();
    else void checkStore();
  });
  window.addEventListener('pagehide', () => {
    // What is being typed is taken, as it is when its field is left.
    if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
    saveLeaving();
  });
}

/** Keeps nothing any more: the shot belongs to another tab. */
export function stopKeeping(): void {
  isStopped = true;
}
