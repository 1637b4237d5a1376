import { runJob } from '../../core/jobs';
import type { Task } from '../../core/kernels/runtime/parallel';
import { answer } from '../pool';

const scope = self as unknown as DedicatedWorkerGlobalScope;
scope.onmessage = ({ data }: MessageEvent<Task>) => scope.postMessage(answer(data, runJob));
