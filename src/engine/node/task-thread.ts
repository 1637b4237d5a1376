import { parentPort } from 'node:worker_threads';
import { runJob } from '../../core/jobs';
import type { Task } from '../../core/kernels/runtime/parallel';
import { answer } from '../pool';

parentPort!.on('message', (task: Task) => parentPort!.postMessage(answer(task, runJob)));
