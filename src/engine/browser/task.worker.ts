import { runJob } from '../../core/kernels/jobs';
import type { Task } from '../../core/kernels/parallel';
import { answer } from '../pool';

const scope = self as unknown as DedicatedWorkerGlobalScope;
scope.onmessage = ({ data }: MessageEvent<Task>) => scope.postMessage(answer(data, runJob));
