import { kernelsOn } from '../core/kernels';
import type { TaskRunner } from '../core/kernels/runtime/parallel';
import { ContentCache } from '../core/light/cache';
import type { StationContext } from '../core/light/station';
import type { Look } from '../core/look/look';
import type { NamedElement } from './elements';
import { plateFiles } from './options';
import { openSource } from './source';

interface BenchOptions {
  plate: string[];
  element: NamedElement[];
  look?: string;
  set: string[];
}

/** Opens a plate and all that its look works on, for an evaluation of which nothing is kept. */
export async function openBench(
  file: string | undefined,
  { plate, element: elements, look, set }: BenchOptions,
  runner: TaskRunner,
): Promise<{ look: Look; bench: StationContext }> {
  const files = plateFiles(file, plate, elements);
  const source = await openSource({ files, elements, look, set, runner });
  const bench = {
    plate: await source.openPlate(),
    backdrop: await source.openBackdrop(),
    ...(await source.openImages()),
    cache: new ContentCache(0),
    kernels: kernelsOn(runner),
  };
  return { look: source.look, bench };
}
