import { WASM } from '../generated/ghosts';
import type { SharedMemory } from '../runtime/memory';
import type { Shared } from '../runtime/shared';
import { onMemory } from '../runtime/wasm';

/** What the WebAssembly kernel offers; `plan` is the address of a plan (see assembly/plan.ts). */
interface GhostExports {
  firstFree(): number;
  surveyGhost(plan: number, scratch: number): void;
  measureGhost(plan: number, scratch: number): void;
  drawGroup(plan: number, scratch: number): void;
  sumRows(plan: number, from: number, to: number): void;
  finishRows(plan: number, from: number, to: number, out: number, scratch: number): void;
}

export type GhostCall =
  | { step: 'surveyGhost' | 'measureGhost' | 'drawGroup'; plan: number; scratch: number }
  | { step: 'sumRows'; plan: number; from: number; to: number; scratch: number }
  | {
      step: 'finishRows';
      plan: number;
      from: number;
      to: number;
      /** Holds the rows' planes, and behind them one row of the level. */
      scratch: number;
      columns: number;
      out: readonly Shared[];
    };

export type GhostTask = GhostCall & SharedMemory;

export const ghostKernel = onMemory<GhostExports>(WASM);

export function ghosts(task: GhostTask): void {
  const kernel = ghostKernel(task);
  const { plan, scratch } = task;
  switch (task.step) {
    case 'sumRows':
      return kernel.sumRows(plan, task.from, task.to);
    case 'finishRows': {
      const { from, to, columns, out } = task;
      const count = columns * (to - from);
      kernel.finishRows(plan, from, to, scratch, scratch + 12 * count + 16);
      out.forEach((buffer, c) => {
        const rows = new Float32Array(task.memory.buffer, scratch + 4 * c * count, count);
        new Float32Array(buffer).set(rows, from * columns);
      });
      return;
    }
    default:
      return kernel[task.step](plan, scratch);
  }
}

declare module '../runtime/parallel' {
  interface JobInputs {
    ghosts: GhostTask;
  }
}
