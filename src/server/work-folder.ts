import { mkdirSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { homedir } from 'node:os';
import { join } from 'node:path';
import { printRecordSchema, type PrintRecord } from '../core/print/print-record';

const RECORD = 'print.json';
const ID = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;

/** Two servers of one person do not print each other's. */
const defaultFolder = (): string => join(homedir(), '.bokelux', `work-${process.env['PORT'] || '3000'}`);

/** Where the server keeps what it prints: a folder for each print. */
export class WorkFolder {
  private readonly root: string;

  constructor(root = process.env['BOKELUX_WORK'] || defaultFolder()) {
    this.root = join(root, 'prints');
    mkdirSync(this.root, { recursive: true, mode: 0o700 });
  }

  /** The folder of a print; an id that is none leads nowhere. */
  folder(id: string): string {
    if (!ID.test(id)) throw new Error('this is no id of a print');
    return join(this.root, id);
  }

  shotFile = (id: string): string => join(this.folder(id), 'shot.bokelux');
  framesFolder = (id: string): string => join(this.folder(id), 'frames');

  make(id: string): void {
    mkdirSync(this.framesFolder(id), { recursive: true, mode: 0o700 });
  }

  /** Writes a record: aside, and then into its place. */
  save(record: PrintRecord): void {
    const path = join(this.folder(record.id), RECORD);
    writeFileSync(`${path}.part`, JSON.stringify(record));
    renameSync(`${path}.part`, path);
  }

  remove(id: string): void {
    rmSync(this.folder(id), { recursive: true, force: true });
  }

  /** All records that can be read; what came in only in part is removed. */
  load(): PrintRecord[] {
    return readdirSync(this.root).flatMap((id) => {
      if (!ID.test(id)) return [];
      try {
        return [printRecordSchema.parse(JSON.parse(readFileSync(join(this.folder(id), RECORD), 'utf8')))];
      } catch {
        this.remove(id);
        return [];
      }
    });
  }
}
