import { existsSync, readdirSync, rmSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { basename, dirname, join, resolve } from 'node:path';
import { InvalidArgumentError, Option, type Command } from 'commander';
import { BokeluxError, FileError, SettingError } from '../../core/errors';
import { framesAmong, nameOfFrame, readFrames, readPattern } from '../../core/image/frame-pattern';
import { offsetsAround } from '../../core/light/resolved-light';
import { lookAt, parseTracks, type Tracks } from '../../core/look/tracks';
import { readsNearbyLights } from '../../core/stations/ghosts/lights';
import { playedRange } from '../../core/shot/reel';
import type { ShotArchive } from '../../core/shot/archive';
import type { NamedElement } from '../elements';
import { readAside, readJson, readPicture } from '../files';
import type { FrameJob } from '../frame-job';
import { onThreads, type FrameRunner } from '../frame-threads';
import { mapPaths, printOptions } from '../queue/paths';
import { integer, plateFiles, withElements, withLook, withPlate, withPrint } from '../options';
import { progressLine } from '../progress';
import { formatOf, type FrameAround, type RenderOptions } from '../render-file';
import { activeEntry, framesOfShot, isShotFile, openSource, readShot } from '../source';

interface ReelOptions extends Omit<RenderOptions, 'frame'> {
  plate: string[];
  tracks?: string;
  frames?: number[];
  gaps?: 'fail' | 'hold' | 'skip';
  jobs?: number;
  resume?: boolean;
  json?: boolean;
  events?: boolean;
  queue?: string;
  priority: number;
  chunk: number;
}

interface Job extends FrameJob {
  frame: number;
}

interface FrameReport {
  frame: number;
  out: string;
  status: 'printed' | 'skipped' | 'failed';
  milliseconds?: number;
  why?: string;
}

/** A file of a reel: of every frame its own, or one for all. */
interface ReelFile {
  path: string;
  isSequence: boolean;
  /** The files that are there, by frame. */
  frames: Map<number, string>;
}

function openReelFile(path: string, shot: ShotArchive | undefined): ReelFile {
  if (shot && isShotFile(path)) {
    const frames = framesOfShot(shot);
    return { path, isSequence: frames.length > 0, frames: new Map(frames.map((frame) => [frame, path])) };
  }
  const pattern = readPattern(basename(path));
  if (!pattern) return { path, isSequence: false, frames: new Map() };
  const folder = dirname(path);
  const names = existsSync(folder) ? readdirSync(folder) : [];
  const found = [...framesAmong(pattern, names)].map(([frame, name]): [number, string] => [
    frame,
    join(folder, name),
  ]);
  if (found.length === 0)
    throw new FileError('there is no frame of this name', {
      where: path,
      todo: 'A # stands for each digit of the number, as in quay.####.exr',
    });
  return { path, isSequence: true, frames: new Map(found) };
}

/** The file of a frame; that of the frame before where it is missing and gaps are held. Undefined if there is none. */
function fileAt({ path, isSequence, frames }: ReelFile, frame: number, isHeld: boolean): string | undefined {
  const own = isSequence ? frames.get(frame) : path;
  if (own !== undefined || !isHeld) return own;
  const known = [...frames.keys()];
  return frames.get(known.findLast((one) => one <= frame) ?? known[0]!);
}

/** The frames to print: those that are asked for, or that a shot's reel plays, or all that the first sequence has, or those that are keyed. */
function framesOf(
  files: readonly ReelFile[],
  { tracks, shot, asked }: { tracks: Tracks; shot: ShotArchive | undefined; asked: number[] | undefined },
): number[] {
  if (asked) return asked;
  const isMoving = shot && (framesOfShot(shot).length > 1 || Object.keys(shot.shot.tracks).length > 0);
  if (isMoving) {
    const { first, last } = playedRange(shot.shot.reel, activeEntry(shot));
    return readFrames(`${first}-${last}`);
  }
  const sequence = files.find(({ isSequence }) => isSequence);
  if (sequence) return [...sequence.frames.keys()];
  const keyed = Object.values(tracks).flatMap(({ keys }) => keys.map(({ frame }) => frame));
  if (keyed.length === 0)
    throw new SettingError('a still has no frames of its own', {
      where: '--frames',
      todo: 'Name them, as in 1-24',
    });
  const [first, last] = [Math.floor(Math.min(...keyed)), Math.ceil(Math.max(...keyed))];
  return readFrames(`${first}-${last}`);
}

/** What of an element is there at a frame. */
function elementAt(
  element: NamedElement,
  files: { file: ReelFile; depth: ReelFile | undefined },
  at: (file: ReelFile) => string | undefined,
): NamedElement | undefined {
  const file = at(files.file);
  const depth = files.depth && at(files.depth);
  if (file === undefined || (files.depth && depth === undefined)) return undefined;
  return { ...element, file, depth };
}

/** What is done about missing files: as it is asked for, or as a shot has it; by themselves they are errors. */
const gapsOf = ({ gaps }: ReelOptions, shot: ShotArchive | undefined): 'fail' | 'hold' | 'skip' =>
  gaps ?? (shot ? shot.shot.reel.gaps : 'fail');

/** The frames of a reel with their files, and those of which files are missing. */
function jobsOf(
  names: readonly string[],
  options: ReelOptions,
  { tracks, shot }: { tracks: Tracks; shot: ShotArchive | undefined },
): { jobs: Job[]; gaps: number[]; filesAround: (frame: number, reach: number) => FrameAround[] } {
  const { frames: asked, out } = options;
  const choice = gapsOf(options, shot);
  const files = names.map((name) => openReelFile(name, shot));
  const elements = options.element.map((one) => ({
    file: openReelFile(one.file, shot),
    depth: one.depth === undefined ? undefined : openReelFile(one.depth, shot),
  }));
  const pattern = readPattern(basename(out));
  const frames = framesOf([...files, ...elements.map(({ file }) => file)], { tracks, shot, asked });
  if (!pattern && frames.length > 1)
    throw new SettingError('all frames would be written over each other', {
      where: out,
      todo: 'Give the number a place, as in final.####.exr',
    });
  const sourcesAt = (frame: number, isHeld: boolean): Pick<FrameAround, 'files' | 'element'> | undefined => {
    const at = (file: ReelFile): string | undefined => fileAt(file, frame, isHeld);
    const own = files.map(at);
    const over = options.element.map((one, k) => elementAt(one, elements[k]!, at));
    if ([...own, ...over].includes(undefined)) return undefined;
    return { files: own as string[], element: over as NamedElement[] };
  };
  const filesAround = (frame: number, reach: number): FrameAround[] =>
    offsetsAround(reach).flatMap((offset) => {
      const sources = sourcesAt(frame + offset, true);
      return sources ? { offset, ...sources } : [];
    });
  const [jobs, gaps]: [Job[], number[]] = [[], []];
  for (const frame of frames) {
    const sources = sourcesAt(frame, choice === 'hold');
    if (!sources) {
      gaps.push(frame);
      continue;
    }
    const name = pattern ? join(dirname(out), nameOfFrame(pattern, frame)) : out;
    const { files: own, element } = sources;
    jobs.push({
      frame,
      ...absolute({ files: own, options: printOptions({ ...options, element, frame, out: name }) }),
    });
  }
  return { jobs, gaps, filesAround };
}

/** How many frames before and after one bear on its lights. */
async function reachAround(
  { files, options: { look: lookFile, lens, element: elements, set, lights, frame } }: FrameJob,
  tracks: Tracks,
  shot: ShotArchive | undefined,
): Promise<number> {
  const { look } = await openSource({ files, look: lookFile, lens, elements, set, shot });
  const timed = lookAt(look, tracks, frame);
  return lights !== undefined || readsNearbyLights(timed) ? timed.ghosts.steady : 0;
}

/** A job that means the same in every folder. */
const absolute = (job: FrameJob): FrameJob => mapPaths(job, (path) => resolve(path));

/** What prints the frames: this process, or whoever takes from a queue. */
async function runnerOf({
  queue,
  priority,
  chunk,
  out,
  jobs = availableParallelism(),
}: ReelOptions): Promise<FrameRunner> {
  if (queue === undefined) return onThreads(jobs);
  const { onQueue, printId } = await import('../queue/on-queue');
  return onQueue(queue, { print: printId(resolve(out)), name: basename(out), priority, chunk });
}

/** Whether a frame was printed before, and can be read to its end. */
async function isWhole(path: string): Promise<boolean> {
  if (!existsSync(path)) return false;
  try {
    return !(await readPicture([path])).isIncomplete;
  } catch {
    return false;
  }
}

/** Removes what a process that is gone has left of frames that it was writing. */
function removeLeftovers(jobs: readonly Job[]): void {
  const outs = new Map(jobs.map(({ options: { out } }) => [basename(out), out]));
  const folder = dirname(jobs[0]?.options.out ?? '');
  if (!existsSync(folder)) return;
  for (const name of readdirSync(folder)) {
    const part = readAside(name);
    if (part && outs.has(part.of) && !isRunning(part.pid)) rmSync(join(folder, name), { force: true });
  }
}

function isRunning(pid: number): boolean {
  if (pid === process.pid) return false;
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}

/** Prints the frames of a reel, several at a time. */
async function printReel(names: readonly string[], options: ReelOptions): Promise<void> {
  const begun = performance.now();
  const { tracks: tracksFile, resume, json, events } = options;
  const shotFile = names.find(isShotFile);
  const shot = await readShot(names);
  const choice = gapsOf(options, shot);
  // What all frames have in common is told once, before any of them is begun.
  formatOf({ ...options, frame: 1 });
  const tracks =
    tracksFile === undefined ? (shot?.shot.tracks ?? {}) : parseTracks(readJson(tracksFile), tracksFile);
  const { jobs, gaps, filesAround } = jobsOf(names, options, { tracks, shot });
  const reports: FrameReport[] = [];
  const report = (one: FrameReport): void => {
    reports.push(one);
    if (events) process.stdout.write(`${JSON.stringify(one)}\n`);
  };
  const all = [...gaps, ...jobs.map(({ frame }) => frame)].sort((a, b) => a - b);
  if (events) process.stdout.write(`${JSON.stringify({ frames: all })}\n`);
  const say = (line: string): void => void process.stderr.write(`${line}\n`);
  for (const frame of gaps) {
    const why = 'a file of this frame is missing';
    if (choice === 'fail') report({ frame, out: '', status: 'failed', why });
    say(`frame ${frame}: ${why}${choice === 'skip' ? '; it is skipped' : ''}`);
  }
  removeLeftovers(jobs);
  const wanted: Job[] = [];
  for (const job of jobs) {
    const { out } = job.options;
    if (resume && (await isWhole(out))) report({ frame: job.frame, out, status: 'skipped' });
    else {
      const around = filesAround(job.frame, await reachAround(job, tracks, shot));
      wanted.push({ ...job, ...(around.length > 0 && absolute({ ...job, around })) });
    }
  }
  const bar = progressLine('printing');
  const ended = new AbortController();
  const end = (): void => ended.abort();
  process.once('SIGINT', end).once('SIGTERM', end);
  const warned = new Set<string>();
  let done = 0;
  try {
    const run = await runnerOf(options);
    await run(wanted, {
      ...{ data: { tracks, shot: shotFile && resolve(shotFile) }, signal: ended.signal },
      onAnswer({ frame, options: { out } }, { milliseconds, warnings, failure }) {
        bar.step(++done / wanted.length);
        const told = { frame, out, milliseconds };
        if (failure === undefined) report({ ...told, status: 'printed' });
        else {
          report({ ...told, status: 'failed', why: failure });
          say(`frame ${frame}: ${failure}`);
        }
        for (const warning of warnings) {
          if (!warned.has(warning)) say(`note: ${warning}`);
          warned.add(warning);
        }
      },
    });
  } finally {
    bar.end();
    process.off('SIGINT', end).off('SIGTERM', end);
    removeLeftovers(jobs);
  }
  reports.sort((a, b) => a.frame - b.frame);
  const seconds = Number(((performance.now() - begun) / 1000).toFixed(2));
  const count = (status: FrameReport['status']): number =>
    reports.filter((report) => report.status === status).length;
  if (json) process.stdout.write(`${JSON.stringify({ frames: reports, seconds }, null, 2)}\n`);
  else if (!events)
    process.stdout.write(
      `${count('printed')} printed, ${count('skipped')} were there, ${count('failed')} failed, in ${seconds} s\n`,
    );
  if (ended.signal.aborted)
    throw new BokeluxError(`it was ended before all frames were printed: ${done} of ${wanted.length} are`, {
      todo: 'With --resume it goes on where it stopped',
    });
  const failed = reports.filter(({ status }) => status === 'failed').map(({ frame }) => frame);
  if (failed.length > 0)
    throw new FileError(
      `${failed.length === 1 ? 'frame' : 'frames'} ${failed.join(', ')} could not be printed`,
      {
        todo: 'With --resume only these are printed again',
      },
    );
}

function frames(text: string): number[] {
  try {
    return readFrames(text);
  } catch (error) {
    throw new InvalidArgumentError((error as BokeluxError).line);
  }
}

export function addReel(program: Command): void {
  withPrint(withLook(withElements(withPlate(program.command('reel')))))
    .description('print the frames of a sequence, or of a still over time, several at a time')
    .requiredOption('--out <PATTERN>', 'where to: a # for each digit of the number, as in final.####.exr')
    .option('--tracks <T.json>', 'settings over time; those of the shot without it')
    .option('--frames <list>', 'which frames, as in 1-24,30,40-60x2; all that there are without it', frames)
    .addOption(
      new Option(
        '--gaps <choice>',
        'what to do about frames of which files are missing: fail (so without it, but for shots), hold the one before, skip',
      ).choices(['fail', 'hold', 'skip']),
    )
    .option('--jobs <N>', 'frames at a time, each on one thread; one a core by default', integer(1, 256))
    .option('--resume', 'leave frames that are there and whole')
    .option(
      '--queue <URL>',
      'hand the frames to the workers of a queue, as redis://HOST:PORT, instead of printing them here',
    )
    .option('--priority <N>', 'in a queue, lower numbers go first', integer(1, 1_000_000), 100)
    .option('--chunk <N>', 'frames that a worker takes from a queue at a time', integer(1, 1000), 4)
    .option('--json', 'print what became of each frame as JSON')
    .option(
      '--events',
      'print the frames, and then what becomes of each as soon as it is known, as lines of JSON',
    )
    .action((file: string | undefined, options: ReelOptions) => {
      const names = plateFiles(file, options.plate, options.element);
      return printReel(names, options);
    });
}
