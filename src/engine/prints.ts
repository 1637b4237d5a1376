import { evaluate } from '../core/bench/evaluate';
import { CancelledError } from '../core/errors';
import { subProgress, type RunOptions } from '../core/kernels/runtime/parallel';
import { cutRegion } from '../core/light/region';
import { lookForPrint, print, type Printed } from '../core/print/print';
import { plateUnderLook } from '../core/stations/plate/primaries';
import { filmView } from '../core/stations/film/run';
import type { EngineContext } from './context';
import type { PrintRequest } from './messages';

/** Lets waiting messages in. */
function nextTurn(): Promise<void> {
  return new Promise((resolve) => setTimeout(resolve, 0));
}

/** Makes final files. */
export class Prints {
  constructor(private readonly engine: EngineContext) {}

  async print(request: PrintRequest, options: RunOptions): Promise<Printed> {
    const plate = this.engine.plate(request.plate);
    const { format, region, primaries, beforeFilm, alpha, width, nearbyLights } = request;
    const look = lookForPrint(request.look);
    const separate = format.kind === 'exr' && format.separations;
    const context = {
      ...this.engine.forStations(plate, subProgress(options, 0, 0.5)),
      nearbyLights,
      separate,
      totalOnly: !separate,
    };
    const { light } = await evaluate(look, context, { scale: 1, behind: beforeFilm ? 'glass' : undefined });
    await nextTurn();
    if (options.signal?.aborted) throw new CancelledError();
    return print({
      plate: plateUnderLook(plate, look),
      primaries,
      light: region ? cutRegion(light, region) : light,
      view: filmView(look, this.engine),
      format,
      alpha,
      width,
      region,
      progress: subProgress(options, 0.5, 1).progress,
      runner: this.engine.kernels.parallel,
    });
  }
}
