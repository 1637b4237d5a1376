import { clamp } from '../../core/image/clamp';
import { numbersOf, placeAt, playedRange, rangeOfReel, type FrameRange } from '../../core/shot/reel';
import { elementsOfPlate, frameAmongElements, plateUnder, type PlateEntry } from '../../core/shot/shot';
import { useDesk } from '../../state/desk-store';
import { plateOnBench } from '../../state/reel-shown';
import { useShot } from '../../state/shot-store';
import { syncEngine } from './open-plates';

/** The frames of the reel: all, and those that are played and printed. */
const reelRange = (): FrameRange => rangeOfReel(useShot.getState().reel, plateOnBench());
export const reelPlayed = (): FrameRange => playedRange(useShot.getState().reel, plateOnBench());

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
  const { plates, reel, look, editPlate } = useShot.getState();
  const plate = plateOnBench();
  if (!plate) return Promise.resolve();
  const shown = { ...plate, frame: placeAt(plate, reel.playhead) };
  const under = plates.find(({ id }) => id === plateUnder(look));
  const wanted: [PlateEntry, number | undefined][] = [
    ...elementsOfPlate(shown, plates)
      .filter(({ id }) => id !== plate.id)
      .map((element): [PlateEntry, number | undefined] => [element, frameAmongElements(element, shown)]),
    ...(under ? [[under, placeAt(under, reel.playhead)] as [PlateEntry, number]] : []),
    [plate, shown.frame],
  ];
  for (const [entry, frame] of wanted)
    if (frame !== undefined && frame !== entry.frame) editPlate(entry.id, { frame });
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
