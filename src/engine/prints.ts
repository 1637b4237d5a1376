import { evaluate } from '../core/bench/evaluate';
import { CancelledError } from '../core/errors';
import { subProgress, type RunOptions } from '../core/kernels/runtime/parallel';
import { cutRegion } from '../core/light/region';
import { print, type Printed } from '../core/print/print';
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
    const { look, format, region } = request;
    const separate = format.kind === 'exr' && format.separations;
    const context = {
      ...this.engine.forStations(plate, subProgress(options, 0, 0.5)),
      separate,
      totalOnly: !separate,
    };
    const { light } = await evaluate(look, context, { scale: 1 });
    await nextTurn();
    if (options.signal?.aborted) throw new CancelledError();
    return print({
      plate,
      look,
      light: region ? cutRegion(light, region) : light,
      format,
      region,
      progress: subProgress(options, 0.5, 1).progress,
      runner: this.engine.kernels.parallel,
    });
  }
}
