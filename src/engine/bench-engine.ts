import type { RgbaImage } from '../core/image/rgba';
import type { Histogram } from '../core/image/histogram';
import type { Triple } from '../core/color/primaries';
import type { Rectangle } from '../core/image/rectangle';
import type { Scopes } from '../core/image/scopes';
import type { Role } from '../core/image/roles';
import type { TaskRunner } from '../core/kernels/runtime/parallel';
import { readHeaders } from '../core/formats/exr/header';
import { MAGIC as EXR_MAGIC } from '../core/formats/exr/spec';
import type { Camera } from '../core/optics/camera';
import { cameraOfFile } from '../core/optics/file-camera';
import type { Printed } from '../core/print/print';
import { readGltfFields, type SceneField } from '../core/formats/lights/gltf';
import type { SceneClock } from '../core/formats/lights/gltf-animation';
import { readLights } from '../core/formats/lights/read';
import type { SpaceLights } from '../core/formats/lights/space-light';
import {
  openArchive,
  writeArchive,
  type FileContent,
  type RandomAccess,
  type ShotArchive,
} from '../core/shot/archive';
import type { PlateFile, Shot } from '../core/shot/shot';
import { QUERIES, type QueryName, type QueryResult } from '../core/bench/queries';
import type { Circle } from '../core/measure/queries';
import { EngineContext } from './context';
import { Lanes, type ProgressListener } from './lanes';
import type {
  Lane,
  Outcome,
  PixelReading,
  PlateInfo,
  PrintRequest,
  QueryRequest,
  Shown,
  ShowRequest,
  SourceFile,
  StackPart,
} from './messages';
import { settle } from './outcome';
import { Plates } from './plates';
import { Prints } from './prints';
import { Readings, type ShownLamp, type Side } from './readings';
import { Views } from './views';

/**
 * The core behind a message boundary: holds the open plates and caches, computes what is asked for, gives up what is
 * outdated. It knows neither browser nor Node; a worker wraps it. The work is done by one class for each purpose.
 */
export class BenchEngine {
  private readonly context: EngineContext;
  private readonly lanes = new Lanes();
  private readonly plates: Plates;
  private readonly views: Views;
  private readonly readings: Readings;
  private readonly prints: Prints;

  constructor(parallel: TaskRunner) {
    this.context = new EngineContext(parallel);
    this.plates = new Plates(this.context);
    this.views = new Views(this.context);
    this.readings = new Readings(this.views);
    this.prints = new Prints(this.context);
  }

  listen(listener: ProgressListener, notice?: (text: string) => void): void {
    this.lanes.listen(listener, notice);
  }

  cancel(lane: Lane): void {
    this.lanes.cancel(lane);
  }

  openPlate(
    id: string,
    name: string,
    files: readonly SourceFile[],
    roles?: Readonly<Record<string, Role>>,
    frameNumber?: number,
  ): Promise<Outcome<PlateInfo>> {
    return this.plates.open(id, name, files, roles, frameNumber);
  }

  stackPlate(id: string, base: string, parts: readonly StackPart[]): Promise<Outcome<null>> {
    return this.plates.stack(id, base, parts);
  }

  setRoles(id: string, roles: Readonly<Record<string, Role>>): Promise<Outcome<PlateInfo>> {
    return this.plates.setRoles(id, roles);
  }

  thumbnails(id: string): Promise<Outcome<Record<string, RgbaImage>>> {
    return this.plates.thumbnails(id);
  }

  closePlate(id: string): void {
    this.plates.close(id);
    this.views.forget(id);
  }

  openImage(key: string, file: SourceFile): Promise<Outcome<RgbaImage>> {
    return this.plates.openImage(key, file);
  }

  closeImage(key: string): void {
    this.plates.closeImage(key);
  }

  show(request: ShowRequest): Promise<Outcome<Shown>> {
    return this.lanes.run(request.lane, (options) => this.views.show(request, options));
  }

  histogram(): Histogram | undefined {
    return this.readings.histogram();
  }

  scopes(side?: Side): Scopes | undefined {
    return this.readings.scopes(side);
  }

  readPatch(side: Side, part: Rectangle): Triple | undefined {
    return this.readings.patch(side, part);
  }

  readLamp(circle: Circle): ShownLamp | undefined {
    return this.readings.lamp(circle);
  }

  readPixel(x: number, y: number): PixelReading | undefined {
    return this.readings.pixel(x, y);
  }

  /** Answers a question of a station's panel. */
  ask<Name extends QueryName>(request: QueryRequest<Name>): Promise<Outcome<QueryResult<Name>>> {
    const { name, look, input, plate } = request;
    const query = QUERIES[name] as (...args: unknown[]) => QueryResult<Name>;
    return settle(() => query(look, input, this.context.forQuery(look, plate)));
  }

  print(request: PrintRequest): Promise<Outcome<Printed>> {
    return this.lanes.run(request.lane ?? 'print', (options) => this.prints.print(request, options));
  }

  readLights(bytes: Uint8Array, file: string, clock: SceneClock): Promise<Outcome<SpaceLights>> {
    return settle(() => readLights(bytes, file, clock));
  }

  /** What the camera of a scene in glTF sees, by frame if it zooms. */
  readFields(bytes: Uint8Array, file: string, clock: SceneClock): Promise<Outcome<SceneField[]>> {
    return settle(() => readGltfFields(bytes, file, clock));
  }

  /** What an OpenEXR file tells of its camera, by its first part; of any other kind nothing. */
  readCamera(bytes: Uint8Array): Promise<Outcome<Partial<Camera>>> {
    return settle(() => {
      const isExr =
        bytes.length > 4 && new DataView(bytes.buffer, bytes.byteOffset).getUint32(0, true) === EXR_MAGIC;
      return isExr ? cameraOfFile(readHeaders(bytes).parts[0]!.attributes) : {};
    });
  }

  /** Writes a shot with its files into a stream. */
  writeShot(
    shot: Shot,
    read: (file: PlateFile) => Promise<FileContent | undefined>,
    target: WritableStream,
  ): Promise<Outcome<null>> {
    return settle(async () => {
      await writeArchive(shot, read, target);
      return null;
    });
  }

  openShot(source: RandomAccess, file: string): Promise<Outcome<ShotArchive>> {
    return settle(() => openArchive(source, file));
  }
}
