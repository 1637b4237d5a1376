/**
 * What the core uses of its platform: the little that browsers' workers and Node have in common. The core is checked
 * against these declarations instead of the DOM's and Node's (`src/core/tsconfig.json`).
 */

interface AbortSignal {
  readonly aborted: boolean;
}

/** What the JPEG decoder's package calls its result. */
interface ImageData {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8ClampedArray;
}

declare class TextEncoder {
  encode(text: string): Uint8Array<ArrayBuffer>;
}

declare class TextDecoder {
  constructor(label?: string, options?: { fatal?: boolean });
  decode(bytes?: ArrayBufferView): string;
}

declare function atob(base64: string): string;
declare function setTimeout(callback: (value?: unknown) => void, milliseconds: number): unknown;

declare namespace WebAssembly {
  interface MemoryDescriptor {
    initial: number;
    maximum?: number;
    shared?: boolean;
  }
  class Memory {
    constructor(descriptor: MemoryDescriptor);
    readonly buffer: ArrayBuffer;
    grow(pages: number): number;
  }
  class Module {
    constructor(bytes: Uint8Array<ArrayBuffer>);
  }
  class Instance {
    constructor(module: Module, imports?: object);
    readonly exports: Readonly<Record<string, unknown>>;
  }
}
