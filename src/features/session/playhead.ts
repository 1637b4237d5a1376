import type { SceneClock } from '../../core/formats/lights/gltf-animation';
import { clamp } from '../../core/image/clamp';
import { numbersOf, playedRange, rangeOfReel, type FrameRange } from '../../core/shot/reel';
import { useDesk } from '../../state/desk-store';
import { plateOnBench } from '../../state/reel-shown';
import { useShot } from '../../state/shot-store';
import { entriesAt } from './hold-frame';
import { syncEngine } from './open-plates';

/** The frames of the reel: all, and those that are played and printed. */
const reelRange = (): FrameRange => rangeOfReel(useShot.getState().reel, plateOnBench());
export const reelPlayed = (): FrameRange => playedRange(useShot.getState().reel, plateOnBench());

/** When a scene that moves is looked at: it begins with the reel. */
export const sceneClock = (): SceneClock => ({
  fps: useShot.getState().reel.rate,
  first: reelRange().first,
});

/** Puts the playhead on a frame of the reel, and on the bench what the plate has there. */
export function goTo(frame: number): Promise<void> {
  useDesk.getState().set({ passing: false });
  movePlayhead(frame);
  return settleFrames();
}

/** Puts the playhead on a frame that is only passed by: what the plate has there is not opened. */
export function passBy(frame: number): void {
  useDesk.getState().set({ passing: true });
  movePlayhead(frame);
}

function movePlayhead(frame: number): void {
  const { first, last } = reelRange();
  useShot.getState().setPlayhead(clamp(Math.round(frame), first, last));
}

/** Puts on the bench what the plate, its elements and what lies under it have at the playhead. */
export function settleFrames(): Promise<void> {
  const { reel, plates, editPlate } = useShot.getState();
  const found = entriesAt(reel.playhead);
  if (!found) return Promise.resolve();
  const { plate, parts, under } = found;
  // What a plate is made of comes before it.
  const wanted = [...parts.filter((part) => part !== plate), under, plate];
  for (const entry of wanted)
    if (entry && plates.find(({ id }) => id === entry.id)!.frame !== entry.frame)
      editPlate(entry.id, { frame: entry.frame });
  return syncEngine();
}

/** The playhead on the frame of the plate that is on the bench. */
export function playheadToBench(): void {
  const plate = plateOnBench();
  const number = plate?.versions[plate.version]!.frames[plate.frame]?.frame;
  if (number !== null && number !== undefined) useShot.getState().setPlayhead(number);
}

/** Playhead and plate together, after another plate or render came to the bench. */
export function alignFrames(): void {
  const plate = plateOnBench();
  if (!plate) return;
  const numbers = numbersOf(plate);
  const { playhead } = useShot.getState().reel;
  const isWithin = numbers.length > 0 && playhead >= numbers[0]! && playhead <= numbers.at(-1)!;
  if (isWithin) void settleFrames();
  else if (numbers.length > 0) playheadToBench();
}
