import { readPassFiles } from '../core/formats/pass-files';
import { greyImage } from '../core/image/grey-image';
import { mergePictures } from '../core/image/merge';
import { holdsLight, lightChannels } from '../core/image/passes';
import { channelFloats, pictureBytes } from '../core/image/picture';
import type { RgbaImage } from '../core/image/rgba';
import { isComponent, type Role } from '../core/image/roles';
import { countNonFinite } from '../core/image/statistics';
import { emptyElement, makePlate, stackPlates, withRoles, type Plate } from '../core/light/plate';
import { cameraOfFile } from '../core/optics/file-camera';
import type { EngineContext } from './context';
import type { Outcome, PlateInfo, SourceFile, StackPart } from './messages';
import { settle } from './outcome';
import { arrivalAdvice } from '../core/light/arrival-advice';
import { greyThumbnail, lutThumbnail, passThumbnail } from './subjects';
import { isCube, readCube } from '../core/formats/cube';

const THUMBNAIL_WIDTH = 296;
const PASS_THUMBNAIL_WIDTH = 96;
const IMAGE_THUMBNAIL_WIDTH = 56;

/** Opens and closes plates and images. */
export class Plates {
  constructor(private readonly context: EngineContext) {}

  /** Opens a plate from its files: one with all passes, or one for each. `roles` corrects what the names tell. */
  open(
    id: string,
    name: string,
    files: readonly SourceFile[],
    roles: Readonly<Record<string, Role>> = {},
    frameNumber?: number,
  ): Promise<Outcome<PlateInfo>> {
    return settle(async () => {
      const picture = mergePictures(await readPassFiles(files, this.context.kernels.parallel));
      return this.install({ ...makePlate(id, name, picture, roles), frameNumber });
    });
  }

  /** Puts open plates together as one, back to front; `base` is the one whose frame it has. */
  stack(id: string, base: string, parts: readonly StackPart[]): Promise<Outcome<null>> {
    return settle(() => {
      const own = this.context.plate(base);
      const stack = parts.map((part, k) =>
        'id' in part ? this.context.plate(part.id) : emptyElement(`${id} ${k}`, part.missing, own),
      );
      this.context.plates.set(id, { ...stackPlates(own, stack), id });
      return null;
    });
  }

  /** Reads a plate's passes anew under other roles. */
  setRoles(id: string, roles: Readonly<Record<string, Role>>): Promise<Outcome<PlateInfo>> {
    return settle(() => {
      const plate = this.context.plate(id);
      return this.install({ ...withRoles(plate, roles), frameNumber: plate.frameNumber });
    });
  }

  /** Every pass as a small picture. */
  thumbnails(id: string): Promise<Outcome<Record<string, RgbaImage>>> {
    return settle(() => {
      const plate = this.context.plate(id);
      return Object.fromEntries(
        plate.passes.map((pass) => [pass.name, passThumbnail(plate, pass, PASS_THUMBNAIL_WIDTH)]),
      );
    });
  }

  close(id: string): void {
    this.context.plates.delete(id);
    this.context.cache.drop(`${id} `);
  }

  /** Opens an image or a look-up table, which looks name by its key; messages call it by its name. */
  openImage(key: string, { name, read }: SourceFile): Promise<Outcome<RgbaImage>> {
    return settle(async () => {
      if (isCube(name)) {
        const lut = readCube(new TextDecoder().decode(await read()), name);
        this.context.luts.set(key, lut);
        return lutThumbnail(lut, IMAGE_THUMBNAIL_WIDTH);
      }
      const image = greyImage(
        key,
        name,
        mergePictures(await readPassFiles([{ name, read }], this.context.kernels.parallel)),
      );
      this.context.images.set(key, image);
      return greyThumbnail(image, IMAGE_THUMBNAIL_WIDTH);
    });
  }

  closeImage(key: string): void {
    this.context.images.delete(key);
    this.context.luts.delete(key);
  }

  private install(plate: Plate): PlateInfo {
    // A shot that is opened again may bring another file under the same id.
    this.context.cache.drop(`${plate.id} `);
    this.context.plates.set(plate.id, plate);
    return plateInfo(plate);
  }
}

/** Whether a render leaves anything of what lies behind it to be seen. */
function hasAlpha({ beauty }: Plate): boolean {
  const { alpha } = lightChannels(beauty);
  return alpha !== undefined && channelFloats(alpha).some((value) => value < 1);
}

function plateInfo(plate: Plate): PlateInfo {
  const { picture, stored } = plate;
  // Of the file's own pixels.
  const share = stored ? (stored.width * stored.height) / (picture.width * picture.height) : 1;
  let nan = 0;
  let infinite = 0;
  for (const channel of picture.channels.values()) {
    const odd = countNonFinite(channel);
    nan += odd.nan;
    infinite += odd.infinite;
  }
  return {
    id: plate.id,
    name: plate.name,
    width: picture.width,
    height: picture.height,
    compression: picture.compression,
    sampleType: plate.sampleType,
    passes: plate.passes.map((pass) => ({
      name: pass.name,
      kind: pass.kind,
      role: pass.role,
      doubt: pass.doubt,
      older: picture.older?.get(pass.name),
      channels: pass.channels.map(({ channel }) => channel.name),
      light: holdsLight(pass),
      component: pass !== plate.beauty && holdsLight(pass) && isComponent(pass.role),
    })),
    beauty: plate.beauty.name,
    depth: plate.depth?.name,
    hasAlpha: hasAlpha(plate),
    nan: Math.round(nan * share),
    infinite: Math.round(infinite * share),
    bytes: pictureBytes(picture),
    isIncomplete: picture.isIncomplete ?? false,
    warnings: [...picture.warnings, ...arrivalAdvice(plate)],
    thumbnail: passThumbnail(plate, plate.beauty, THUMBNAIL_WIDTH),
    frame: plate.frame,
    camera: cameraOfFile(picture.attributes),
    range: picture.range,
  };
}
