import { contextOf, evaluate } from '../core/bench/evaluate';
import { SettingError } from '../core/errors';
import type { CubeLut } from '../core/color/lut';
import type { GreyImage } from '../core/image/grey-image';
import { kernelsOn, type Kernels } from '../core/kernels';
import type { RunOptions, TaskRunner } from '../core/kernels/runtime/parallel';
import { ContentCache } from '../core/light/cache';
import type { Plate } from '../core/light/plate';
import type { QueryContext } from '../core/light/query';
import type { StationContext } from '../core/light/station';
import type { Look } from '../core/look/look';

/** What the caches may keep: several full-size stages of a 4K picture. */
const CACHE_BYTES = 1024 ** 3;

/** What all parts of the engine share: open plates and images, caches and kernels. */
export class EngineContext {
  readonly plates = new Map<string, Plate>();
  readonly images = new Map<string, GreyImage>();
  readonly luts = new Map<string, CubeLut>();
  readonly cache = new ContentCache(CACHE_BYTES);
  readonly kernels: Kernels;
  readonly image = (name: string): GreyImage | undefined => this.images.get(name);

  readonly lut = (name: string): CubeLut | undefined => this.luts.get(name);

  constructor(parallel: TaskRunner) {
    this.kernels = kernelsOn(parallel);
  }

  /** An open plate. Throws {@link SettingError} if there is none of this id. */
  plate(id: string): Plate {
    const plate = this.plates.get(id);
    if (!plate) throw new SettingError('the plate is not open', { where: id, todo: 'Bring it in again' });
    return plate;
  }

  /** What stations run on. */
  forStations(plate: Plate, options: RunOptions = {}): StationContext {
    return {
      ...options,
      plate,
      cache: this.cache,
      kernels: this.kernels,
      backdrop: (id) => this.plates.get(id),
      image: this.image,
      lut: this.lut,
    };
  }

  /** What a station's query runs on. */
  forQuery(look: Look, id: string | undefined): QueryContext {
    const plate = (): Plate => this.plate(id ?? '');
    return {
      cache: this.cache,
      kernels: this.kernels,
      image: this.image,
      plate,
      lightBefore: async (station, scale) => {
        const { light } = await evaluate(look, this.forStations(plate()), { scale, before: station });
        return light;
      },
      bench: () => this.forStations(plate()),
      contextOf: (station) => contextOf(station, look, this.forStations(plate())),
    };
  }
}
