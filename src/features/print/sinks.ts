import {
  BufferTarget,
  Output,
  VideoSample,
  VideoSampleSource,
  WebMOutputFormat,
  canEncodeVideo,
} from 'mediabunny';
import { benchEngine, unwrap } from '../../engine/browser/client';
import { chooseFile, download, unlessGivenUp } from '../session';

/** Where the frames of a reel go to. */
export interface FrameSink {
  /** Whether a frame of a name is there from before. */
  has: (name: string) => Promise<boolean>;
  write: (name: string, bytes: Uint8Array<ArrayBuffer>) => Promise<void>;
  /** All frames are written that there will be. */
  end: () => Promise<void>;
}

type PickerWindow = Window & {
  showDirectoryPicker?: (options: { mode: 'readwrite' }) => Promise<FileSystemDirectoryHandle>;
};

const pickers = (): PickerWindow => window as PickerWindow;

/** Whether this browser can write into a folder of the person's. */
export const canPickFolder = (): boolean => typeof pickers().showDirectoryPicker === 'function';

/** A folder that the person chooses; undefined if they think better of it. A file is there only when it is whole. */
export async function folderSink(): Promise<{ sink: FrameSink; name: string } | undefined> {
  const folder = await unlessGivenUp(pickers().showDirectoryPicker!({ mode: 'readwrite' }));
  if (!folder) return undefined;
  return {
    name: folder.name,
    sink: {
      has: async (name) => {
        const file = await folder.getFileHandle(name).then(
          (handle) => handle.getFile(),
          () => undefined,
        );
        return file !== undefined && file.size > 0;
      },
      write: async (name, bytes) => {
        const handle = await folder.getFileHandle(name, { create: true });
        // What is written stands aside until it is closed.
        const stream = await handle.createWritable();
        await stream.write(bytes);
        await stream.close();
      },
      end: () => Promise.resolve(),
    },
  };
}

/** One archive: in a file that the person chooses, where the browser can stream into one, or as a download. */
export async function zipSink(name: string): Promise<FrameSink | undefined> {
  const into = await chooseFile(name);
  if (into === null) return undefined;
  const engine = benchEngine();
  const zip = unwrap(await engine.openZip(into));
  return {
    has: () => Promise.resolve(false),
    write: async (file, bytes) => void unwrap(await engine.addToZip(zip, file, bytes)),
    end: async () => {
      const blob = unwrap(await engine.closeZip(zip));
      if (blob) download(blob, name);
    },
  };
}

/** A film of pictures. */
export interface FilmSink {
  add: (picture: ImageBitmap, place: number) => Promise<void>;
  end: () => Promise<void>;
}

const BITS_A_PIXEL = 0.25;

/** A WebM film of so many frames a second; undefined where the browser can make none of this size. */
export async function filmSink(
  name: string,
  { width, height, rate }: { width: number; height: number; rate: number },
): Promise<FilmSink | undefined> {
  const bitrate = Math.max(1_000_000, Math.round(width * height * rate * BITS_A_PIXEL));
  const codecs = ['vp9', 'vp8', 'av1'] as const;
  const able = await Promise.all(codecs.map((codec) => canEncodeVideo(codec, { width, height, bitrate })));
  const codec = codecs.find((_, k) => able[k]);
  if (!codec) return undefined;
  const target = new BufferTarget();
  const output = new Output({ format: new WebMOutputFormat(), target });
  const source = new VideoSampleSource({ codec, bitrate });
  output.addVideoTrack(source, { frameRate: rate });
  await output.start();
  return {
    add: async (picture, place) => {
      const sample = new VideoSample(picture, { timestamp: place / rate, duration: 1 / rate });
      await source.add(sample);
      sample.close();
    },
    end: async () => {
      await output.finalize();
      download(new Blob([target.buffer!], { type: 'video/webm' }), name);
    },
  };
}
