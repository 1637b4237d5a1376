import { runJob } from '../../core/jobs';
import type { Task } from '../../core/kernels/runtime/parallel';
import { answer } from '../pool';
import { holdLock } from './life-lock';

/** Asks a thread to hold a lock as long as it lives. */
export interface HoldRequest {
  hold: string;
}

const scope = self as unknown as DedicatedWorkerGlobalScope;
scope.onmessage = ({ data }: MessageEvent<Task | HoldRequest>) => {
  if ('hold' in data) void holdLock(data.hold).then(() => scope.postMessage({ held: data.hold }));
  else scope.postMessage(answer(data, runJob));
};
