/**
 * Every error the application raises on purpose. `message` says what happened; `where` says in which file,
 * setting or line; `todo` says what the person can do about it. Anything else that is thrown is our own fault.
 */
export class BokeluxError extends Error {
  readonly where: string | undefined;
  readonly todo: string | undefined;

  constructor(what: string, about: { where?: string | undefined; todo?: string | undefined } = {}) {
    super(what);
    this.name = new.target.name;
    this.where = about.where;
    this.todo = about.todo;
  }

  /** One line for a terminal or a message bar: what, where, what to do. */
  get line(): string {
    const place = this.where ? `${this.where}: ` : '';
    const advice = this.todo ? `. ${this.todo}` : '';
    return `${place}${this.message}${advice}`;
  }
}

/** A file that cannot be read: damaged, of another kind, or lying about itself. */
export class FileError extends BokeluxError {}

/** A setting's path or value that the look's schema refuses. */
export class SettingError extends BokeluxError {}

/** Work that was given up because newer work replaced it, or because the person cancelled it. */
export class CancelledError extends BokeluxError {
  constructor() {
    super('cancelled');
  }
}

/** The same error with the file's name added, once the caller knows it. */
export function atFile(error: unknown, file: string): unknown {
  if (!(error instanceof FileError)) return error;
  const where = error.where ? `${file}, ${error.where}` : file;
  const about = { where, ...(error.todo === undefined ? {} : { todo: error.todo }) };
  return new FileError(error.message, about);
}
