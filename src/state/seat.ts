/**
 * A tab's seat: the right to keep a shot in this browser, which one tab at a time has (Web Locks). The first tab has seat 1;
 * a copy of its shot sits on another. Where the browser has no locks every tab sits on seat 1.
 */
const lockName = (seat: number): string => `bokelux seat ${seat}`;
const MOST_SEATS = 9;
/** A page that is loaded anew waits so long for the one before it to leave its seat. */
const LEAVING_MS = 1500;
/** And so long for a tab to hand its seat over. */
const HANDING_MS = 1500;
const TRY_MS = 50;
const REMEMBERED = 'bokelux seat';

const locks = (): LockManager | undefined => (typeof navigator === 'undefined' ? undefined : navigator.locks);
const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

/** What happens when another tab asks for the seat: saves what is to be saved. */
type Handover = () => Promise<void>;

interface Held {
  seat: number;
  leave: () => void;
}

let held: Held | undefined;
let onLost: (seat: number) => void = () => undefined;
let beforeHandover: Handover = () => Promise.resolve();
let channel: BroadcastChannel | undefined;

/** Hears that the seat is about to go to another tab, and that it is gone. */
export function watchSeat(events: { handover: Handover; lost: (seat: number) => void }): void {
  beforeHandover = events.handover;
  onLost = events.lost;
  if (channel || typeof BroadcastChannel === 'undefined') return;
  channel = new BroadcastChannel('bokelux seats');
  channel.onmessage = ({ data }: MessageEvent<{ wanted?: number }>) => {
    if (held && data.wanted === held.seat) void handOver();
  };
}

async function handOver(): Promise<void> {
  const left = held;
  await beforeHandover().catch(() => undefined);
  if (!left || held !== left) return;
  held = undefined;
  left.leave();
  onLost(left.seat);
}

/** Takes a seat's lock if it is free. */
function tryLock(seat: number, steal = false): Promise<boolean> {
  const manager = locks();
  if (!manager) {
    held = { seat, leave: () => undefined };
    return Promise.resolve(true);
  }
  return new Promise((resolve) => {
    manager
      .request(lockName(seat), steal ? { steal } : { ifAvailable: true }, (lock) => {
        if (!lock) return resolve(false);
        return new Promise<void>((leave) => {
          held = { seat, leave };
          sessionStorage.setItem(REMEMBERED, String(seat));
          resolve(true);
        });
      })
      .catch(() => {
        // Another tab took the lock by force.
        if (held?.seat === seat) {
          held = undefined;
          onLost(seat);
        } else resolve(false);
      });
  });
}

async function waitForLock(seat: number, most: number): Promise<boolean> {
  const until = performance.now() + most;
  for (;;) {
    if (await tryLock(seat)) return true;
    if (performance.now() > until) return false;
    await pause(TRY_MS);
  }
}

/** Sits down where this tab sat before it was loaded anew, or on seat 1; `isFree` is whether no other tab sits there. */
export async function takeSeat(): Promise<{ seat: number; isFree: boolean }> {
  const before = Number(sessionStorage.getItem(REMEMBERED)) || undefined;
  const seat = before ?? 1;
  return { seat, isFree: await waitForLock(seat, before ? LEAVING_MS : 0) };
}

/** Sits down on a seat that another tab has: asks for it, and takes it by force if there is no answer. */
export async function takeOver(seat: number): Promise<number> {
  channel?.postMessage({ wanted: seat });
  if (!(await waitForLock(seat, HANDING_MS))) await tryLock(seat, true);
  return seat;
}

/** Sits down on the first free seat from 2 on. */
export async function takeFreeSeat(): Promise<number | undefined> {
  for (let seat = 2; seat <= MOST_SEATS; seat++) if (await tryLock(seat)) return seat;
  return undefined;
}

/** The seats that tabs sit on, this one's included. */
export async function takenSeats(): Promise<Set<number>> {
  const { held: all = [] } = (await locks()?.query()) ?? {};
  const numbers = all.map(({ name }) => Number(/^bokelux seat (\d+)$/.exec(name ?? '')?.[1]));
  return new Set([...numbers.filter((seat) => seat > 0), ...(held ? [held.seat] : [])]);
}

/** The seat of this tab, if it has one. */
export const ownSeat = (): number | undefined => held?.seat;
