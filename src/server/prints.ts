import { spawn, type ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { patternOf, type PrintOptions } from '../core/print/print-options';
import { reelArguments } from './reel-arguments';
import { eventSchema, type PrintedFrame, type PrintRecord } from '../core/print/print-record';
import { WorkFolder } from './work-folder';

/** Results are kept for so long, or until so long after they were fetched. */
const KEEP_MS = 24 * 3600 * 1000;
const KEEP_FETCHED_MS = 10 * 60 * 1000;
const SWEEP_MS = 60 * 1000;
/** Changes are told at most so often. */
const TELL_MS = 200;
/** The command line; the server is started in the project's folder. */
const COMMAND = join(process.cwd(), 'bin', 'bokelux.mjs');

interface Listener {
  onChange: () => void;
  /** The server ends. */
  onEnd: () => void;
}

/** The prints of this server: one after the other, each in a process of its own, so that nothing that befalls it befalls the server. */
export class ServerPrints {
  private readonly work = new WorkFolder();
  private readonly records = new Map<string, PrintRecord>();
  private readonly listeners = new Set<Listener>();
  private running: { id: string; child: ChildProcess } | undefined;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private isEnding = false;

  /** Takes up what an earlier server left. */
  start(): void {
    for (const record of this.work.load()) {
      if (record.state === 'printing') {
        endOrphan(record);
        record.state = 'waiting';
        record.process = null;
      }
      this.records.set(record.id, record);
    }
    for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => this.stop());
    process.once('exit', () => this.stop());
    setInterval(() => this.sweep(), SWEEP_MS).unref();
    this.sweep();
    this.next();
  }

  /** Ends with the server, which waits for its connections: what is being printed goes on with the next one. */
  stop(): void {
    this.isEnding = true;
    this.running?.child.kill();
    this.listeners.forEach(({ onEnd }) => onEnd());
  }

  /** The newest first. */
  list(): PrintRecord[] {
    return [...this.records.values()].sort((a, b) => b.created - a.created);
  }

  find(id: string): PrintRecord | undefined {
    return this.records.get(id);
  }

  subscribe(listener: Listener): () => void {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  }

  /** A place for a shot that is about to come in. */
  prepare(): { id: string; file: string } {
    const id = randomUUID();
    this.work.make(id);
    return { id, file: this.work.shotFile(id) };
  }

  /** Gives a place up again. */
  discard(id: string): void {
    this.work.remove(id);
  }

  /** Prints a shot that has come in whole. */
  add(id: string, options: PrintOptions): PrintRecord {
    const record: PrintRecord = {
      ...{ id, options, state: 'waiting', created: Date.now(), begun: null, ended: null, fetched: null },
      ...{ process: null, frames: [], told: [], why: null },
    };
    this.records.set(id, record);
    this.work.save(record);
    this.tell();
    this.next();
    return record;
  }

  /** Gives a print up, or removes one that is over with its files. */
  remove(id: string): void {
    const record = this.records.get(id);
    if (!record) return;
    this.records.delete(id);
    if (this.running?.id === id) {
      const { child } = this.running;
      child.once('exit', () => this.work.remove(id));
      child.kill();
    } else this.work.remove(id);
    this.tell();
  }

  /** Prints again what of a print is not there. */
  retry(id: string): void {
    const record = this.records.get(id);
    if (!record || (record.state !== 'failed' && record.state !== 'done')) return;
    Object.assign(record, {
      state: 'waiting',
      ended: null,
      why: null,
      told: [],
    } satisfies Partial<PrintRecord>);
    this.work.save(record);
    this.tell();
    this.next();
  }

  /** Files of a print that are whole, by their names, in order. */
  files(id: string): { folder: string; names: string[] } {
    const record = this.records.get(id);
    const folder = this.work.framesFolder(id);
    const printed = record?.told.filter(({ status }) => status !== 'failed') ?? [];
    const names = printed.map(({ frame }) => nameOf(record!.options, frame)).sort();
    return { folder, names };
  }

  markFetched(id: string): void {
    const record = this.records.get(id);
    if (!record) return;
    record.fetched = Date.now();
    this.work.save(record);
    this.tell();
  }

  private sweep(): void {
    const now = Date.now();
    for (const { id, ended, fetched } of this.records.values()) {
      const isOld = ended !== null && now - ended > KEEP_MS;
      if (isOld || (fetched !== null && now - fetched > KEEP_FETCHED_MS)) this.remove(id);
    }
  }

  private next(): void {
    if (this.running || this.isEnding) return;
    const record = this.list().findLast(({ state }) => state === 'waiting');
    if (record) this.print(record);
  }

  private print(record: PrintRecord): void {
    const { id, options } = record;
    const out = join(this.work.framesFolder(id), patternOf(options));
    const queue = process.env['BOKELUX_QUEUE'];
    const child = spawn(
      process.execPath,
      [
        ...[COMMAND, 'reel', this.work.shotFile(id), '--out', out, '--events', '--resume'],
        ...reelArguments(options),
        ...(queue ? ['--queue', queue] : ['--jobs', String(availableParallelism())]),
      ],
      // Ctrl-C in the server's terminal is the server's: it ends the process itself, and the print goes on with the next server.
      { stdio: ['ignore', 'pipe', 'pipe'], detached: true },
    );
    this.running = { id, child };
    Object.assign(record, {
      ...{ state: 'printing', begun: Date.now(), process: child.pid ?? null, told: [] },
    } satisfies Partial<PrintRecord>);
    this.work.save(record);
    this.tell();
    let said = '';
    child.stderr.on('data', (text) => (said = (said + String(text)).slice(-4000)));
    createInterface({ input: child.stdout }).on('line', (line) => this.hear(record, line));
    child.once('error', (error) => (said = error.message));
    child.once('close', (code) => this.end(record, code, said));
  }

  private hear(record: PrintRecord, line: string): void {
    let event: unknown;
    try {
      event = JSON.parse(line);
    } catch {
      return;
    }
    const told = eventSchema.safeParse(event);
    if (!told.success) return;
    if ('frames' in told.data) record.frames = told.data.frames;
    else {
      const { frame, status, milliseconds, why } = told.data;
      const one: PrintedFrame = {
        frame,
        status,
        ...(milliseconds !== undefined && { milliseconds }),
        ...(why !== undefined && { why }),
      };
      record.told = [...record.told, one].sort((a, b) => a.frame - b.frame);
    }
    this.tell();
  }

  private end(record: PrintRecord, code: number | null, said: string): void {
    this.running = undefined;
    if (this.isEnding) return;
    if (this.records.has(record.id)) {
      Object.assign(record, {
        ...{ state: code === 0 ? 'done' : 'failed', ended: Date.now(), process: null },
        why: code === 0 ? null : reasonIn(said),
      } satisfies Partial<PrintRecord>);
      this.work.save(record);
      this.tell();
    }
    this.next();
  }

  private tell(): void {
    this.timer ??= setTimeout(() => {
      this.timer = undefined;
      this.listeners.forEach(({ onChange }) => onChange());
    }, TELL_MS);
  }
}

/** The name of a frame's file. */
export function nameOf(options: PrintOptions, frame: number): string {
  return patternOf(options).replace(/#+/, (marks) => {
    const digits = String(Math.abs(frame)).padStart(marks.length, '0');
    return frame < 0 ? `-${digits}` : digits;
  });
}

/** Why the command ended, from what it said. */
function reasonIn(said: string): string {
  const lines = said.trim().split('\n');
  const told = lines.findLast((line) => /^(bokelux|error): /.test(line)) ?? lines.at(-1);
  return told?.replace(/^(bokelux|error): /, '') || 'the process that printed it ended';
}

/** Ends a process that an earlier server began, if it still prints. */
function endOrphan({ id, process: pid }: PrintRecord): void {
  if (pid === null) return;
  try {
    // Another process may have the number by now.
    if (readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(id)) process.kill(pid);
  } catch {
    // It is gone, or this is no system that tells.
  }
}

const shared = globalThis as { bokeluxPrints?: ServerPrints };

/** The prints of this process: its parts are bundled apart, and share them here. */
export function serverPrints(): ServerPrints {
  if (!shared.bokeluxPrints) {
    shared.bokeluxPrints = new ServerPrints();
    shared.bokeluxPrints.start();
  }
  return shared.bokeluxPrints;
}
