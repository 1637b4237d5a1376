import { z } from 'zod';
import { FileError } from '../../core/errors';
import type { PrintOptions } from '../../core/print/print-options';
import { printRecordSchema, type PrintRecord } from '../../core/print/print-record';
import { notify, packCurrentShot } from '../session';
import { usePrints } from './prints-store';

const listSchema = z.object({ prints: z.array(printRecordSchema) });
const errorSchema = z.object({ error: z.string() });

let events: EventSource | undefined;

/** Hears of the server's prints from now on. */
function listen(): void {
  if (events || typeof EventSource === 'undefined') return;
  events = new EventSource('/api/prints/events');
  events.onmessage = ({ data }: MessageEvent<string>) => take(JSON.parse(data));
}

function take(data: unknown): void {
  const read = listSchema.safeParse(data);
  if (!read.success) return;
  const before = new Map(usePrints.getState().server.map((one) => [one.id, one.state]));
  usePrints.getState().set({ server: read.data.prints });
  for (const { id, state, options, why } of read.data.prints) {
    if (before.get(id) !== 'printing' || state === 'printing') continue;
    if (state === 'done') notify(`${options.name} is printed on the server`, 'success');
    if (state === 'failed') notify(`${options.name}, on the server: ${why ?? 'it failed'}`, 'warning');
  }
}

/** Looks whether the server prints anything, as after a reload, and hears of it then. */
export async function lookForServerPrints(): Promise<void> {
  const answer = await fetch('/api/prints').catch(() => undefined);
  if (!answer?.ok) return;
  const data: unknown = await answer.json().catch(() => undefined);
  take(data);
  if (usePrints.getState().server.length > 0) listen();
}

async function refusal(answer: Response): Promise<FileError> {
  const read = errorSchema.safeParse(await answer.json().catch(() => undefined));
  return new FileError(read.success ? read.data.error : `the server answers ${answer.status}`, {
    where: 'the server',
  });
}

const noAnswer = (): never => {
  throw new FileError('the server does not answer', { todo: 'Start it again; the shot stays as it is' });
};

let handedOver = 0;

/** Whether a shot is on its way to the server: a page that is left now takes it along. */
export const isHandingOver = (): boolean => handedOver > 0;

/** Hands the shot to the server, which prints it. */
export async function printOnServer(options: PrintOptions): Promise<PrintRecord> {
  handedOver++;
  try {
    return await handOver(options);
  } finally {
    handedOver--;
  }
}

async function handOver(options: PrintOptions): Promise<PrintRecord> {
  const { blob } = await packCurrentShot();
  const address = `/api/prints?options=${encodeURIComponent(JSON.stringify(options))}`;
  const answer = await fetch(address, { method: 'POST', body: blob }).catch(noAnswer);
  if (!answer.ok) throw await refusal(answer);
  listen();
  return printRecordSchema.parse(await answer.json());
}

export async function removeServerPrint(id: string): Promise<void> {
  const answer = await fetch(`/api/prints/${id}`, { method: 'DELETE' }).catch(noAnswer);
  if (!answer.ok && answer.status !== 404) throw await refusal(answer);
  await lookForServerPrints();
}

/** Prints again what of a print is not there. */
export async function retryServerPrint(id: string): Promise<void> {
  const answer = await fetch(`/api/prints/${id}`, { method: 'POST' }).catch(noAnswer);
  if (!answer.ok) throw await refusal(answer);
  listen();
}

/** Where the frames of a print are had as one archive. */
export const zipAddress = (id: string): string => `/api/prints/${id}/zip`;
