import { create } from 'zustand';
import type { PrintRecord } from '../../core/print/print-record';

/** A reel that this page prints. */
export interface LocalPrintState {
  id: string;
  name: string;
  /** Where to, in words. */
  where: string;
  frames: readonly number[];
  /** Frames that are printed, or were there. */
  done: number;
  failed: readonly { frame: number; why: string }[];
  state: 'printing' | 'paused' | 'done' | 'failed' | 'cancelled';
  /** Milliseconds that a frame took, on average. */
  pace: number | null;
  /** Why it ended as a whole. */
  why: string | null;
}

/** What is printed, here and by the server. */
interface PrintsState {
  local: readonly LocalPrintState[];
  server: readonly PrintRecord[];
  set: (change: Partial<Omit<PrintsState, 'set'>>) => void;
}

export const usePrints = create<PrintsState>()((set) => ({ local: [], server: [], set }));

/** Changes what is known of a print of this page. */
export function changeLocal(id: string, change: Partial<LocalPrintState>): void {
  const { local, set } = usePrints.getState();
  set({ local: local.map((one) => (one.id === id ? { ...one, ...change } : one)) });
}
