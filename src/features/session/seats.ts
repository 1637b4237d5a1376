import { create } from 'zustand';
import { takeFreeSeat, takeOver, takeSeat, watchSeat } from '../../state/seat';
import { saveDocument } from '../../state/storage';
import { currentShot, saveNow, startKeeping, stopKeeping } from './kept';

/** Why this tab may not keep the shot: another has it already, or took it over. */
export type SeatTrouble = 'taken' | 'lost';

interface SeatState {
  trouble: SeatTrouble | null;
  /** What the person wants to do about it. */
  decide: (what: 'take over' | 'copy') => void;
}

export const useSeat = create<SeatState>()(() => ({ trouble: null, decide: () => undefined }));

function ask(trouble: SeatTrouble): Promise<'take over' | 'copy'> {
  return new Promise((resolve) =>
    useSeat.setState({
      trouble,
      decide(what) {
        useSeat.setState({ trouble: null });
        resolve(what);
      },
    }),
  );
}

/**
 * Finds this tab a seat: the one it had, or the first. If another tab sits there, the person takes it over or opens a copy of
 * what that tab has kept. Gives the seat, and the one whose shot is to be opened.
 */
export async function findSeat(): Promise<{ seat: number; source: number }> {
  const { seat, isFree } = await takeSeat();
  watchSeat({ handover: () => saveNow(), lost: (own) => void lost(own) });
  if (isFree) return { seat, source: seat };
  if ((await ask('taken')) === 'copy') {
    const free = await takeFreeSeat();
    if (free !== undefined) return { seat: free, source: seat };
  }
  return { seat: await takeOver(seat), source: seat };
}

/** Another tab took the shot over: this one takes it back, or goes on with a copy of what it has. */
async function lost(seat: number): Promise<void> {
  stopKeeping();
  if ((await ask('lost')) === 'take over') {
    await takeOver(seat);
    location.reload();
    return;
  }
  const free = await takeFreeSeat();
  if (free === undefined) return lost(seat);
  await saveDocument(currentShot(), free);
  startKeeping();
}
