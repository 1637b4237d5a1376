import { alphaInPlace, distancesInPlace, elementsOf, hasDistances } from '../../light/elements';
import type { StationQuery } from '../../light/query';
import type { Plate } from '../../light/plate';
import type { Look } from '../../look/look';

/** What is known of one element of a plate, for its sketch in depth and for advice. */
export interface ElementFacts {
  /** Its place in the stack, from the back. */
  index: number;
  /** Share of the frame that it takes up. */
  coverage: number;
  /** Distances of its nearest and farthest parts, a twentieth at either end left out; undefined without any. */
  near: number | undefined;
  far: number | undefined;
  /** Whether its soft edges fit those of the element right behind it as if one had been cut by the other. */
  fitsBehind: boolean;
}

/** What a pixel must be covered by to count for an element's distances. */
const SOLID = 0.5;
const [LOW_SHARE, HIGH_SHARE] = [0.05, 0.95];

/** What is known of the elements that are on, back to front. */
const elementFacts: StationQuery<object, { elements: ElementFacts[] }> = async (look, _input, context) => {
  const plate = context.plate();
  const key = `${plate.id} facts ${JSON.stringify([look.elements, look.focus.depth, look.camera])}`;
  const elements = await context.cache.getOrReplace('facts of elements', key, () => factsOf(plate, look));
  return { elements };
};

function factsOf(plate: Plate, look: Look): ElementFacts[] {
  const elements = elementsOf(plate, look);
  const alphas = elements.map((element) => alphaInPlace(element, plate, 1));
  const distances = hasDistances(plate, look) ? distancesInPlace(elements, plate, look).each : undefined;
  return elements.map((element, k) => {
    const alpha = alphas[k];
    const sum = alpha ? alpha.reduce((all, value) => all + value, 0) / alpha.length : 1;
    const behind = k > 0 ? alphas[k - 1] : undefined;
    return {
      index: element.index,
      coverage: sum,
      ...rangeOf(distances?.[k], alpha),
      fitsBehind: alpha !== undefined && behind !== undefined && isCutBy(alpha, behind),
    };
  });
}

function rangeOf(
  distances: Float32Array | undefined,
  alpha: Float32Array | undefined,
): Pick<ElementFacts, 'near' | 'far'> {
  const counted = distances?.filter((_, i) => !alpha || alpha[i]! >= SOLID);
  const all = counted?.length ? counted : distances?.filter((_, i) => !alpha || alpha[i]! > 0);
  if (!all?.length) return { near: undefined, far: undefined };
  const sorted = all.sort();
  const at = (share: number): number =>
    sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))]!;
  return { near: at(LOW_SHARE), far: at(HIGH_SHARE) };
}

/** Pixels in which both are soft come to a whole within this, ... */
const FIT = 0.06;
/** ... if they are this share of all of them, and as many. */
const FITTING = 0.7;
const FEWEST = 50;

/** Whether two alphas are each other's rest where their edges meet. */
export function isCutBy(alpha: Float32Array, behind: Float32Array): boolean {
  let [soft, fits] = [0, 0];
  for (let i = 0; i < alpha.length; i++) {
    const [a, b] = [alpha[i]!, behind[i]!];
    if (!(a > 0.05 && a < 0.95 && b > 0.02 && b < 0.98)) continue;
    soft++;
    if (Math.abs(a + b - 1) < FIT) fits++;
  }
  return soft >= FEWEST && fits >= FITTING * soft;
}

export const plateQueries = { elementFacts };
