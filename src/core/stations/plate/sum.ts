import { blackRgb, mapRgb, type Rgb } from '../../image/rgb';
import type { Element } from '../../light/elements';
import type { Plate } from '../../light/plate';
import type { ElementSettings } from '../../settings/element';
import { hexToLinear } from '../../color/hex';
import { applyLevels, curveMap, levelsAreNeutral, ToneTable } from '../../color/tone';
import { SettingError } from '../../errors';
import { clamp } from '../../image/clamp';
import { holdsLight, type Pass } from '../../image/passes';
import { isComponent } from '../../image/roles';

export type PassSettings = ElementSettings['passes'][string];

/** The passes that add up to the beauty, in the order in which they are laid over each other. */
export function componentsOf(plate: Plate, order: readonly string[]): Pass[] {
  const place = (pass: Pass): number => {
    const at = order.indexOf(pass.name);
    return at < 0 ? order.length : at;
  };
  return plate.passes
    .filter((pass) => pass !== plate.beauty && holdsLight(pass) && isComponent(pass.role))
    .map((pass, index) => ({ pass, index }))
    .sort((a, b) => place(a.pass) - place(b.pass) || a.index - b.index)
    .map(({ pass }) => pass);
}

function settingsOf({ settings: { passes } }: Element, pass: Pass): PassSettings | undefined {
  return Object.hasOwn(passes, pass.name) ? passes[pass.name] : undefined;
}

/** The components that are switched on, or, if any is solo, those alone. */
export function summedPasses(element: Element): Pass[] {
  const { plate, settings, index } = element;
  const all = componentsOf(plate, settings.order);
  if (all.length === 0)
    throw new SettingError(`${plate.name} has no passes that add up to the picture`, {
      where: `elements[${index}].source`,
      todo: 'Tell in the pass table what its passes are, or take the beauty',
    });
  const solo = all.filter((pass) => settingsOf(element, pass)?.solo);
  return solo.length ? solo : all.filter((pass) => settingsOf(element, pass)?.on ?? true);
}

/** One pass as it goes into the sum. */
export function adjustPass(rgb: Rgb, settings: PassSettings | undefined): Rgb {
  if (!settings) return rgb;
  let out = rgb;
  const map = (change: (plane: Float32Array, c: number) => Float32Array): void => {
    out = mapRgb(out, change);
  };
  const gain = 2 ** settings.gain;
  const tint = hexToLinear(settings.tint).map((part) => part * gain);
  if (tint.some((factor) => factor !== 1))
    map((plane, c) => {
      const factor = tint[c]!;
      return factor === 1 ? plane : plane.map((value) => value * factor);
    });
  if (!levelsAreNeutral(settings)) map((plane) => applyLevels(plane, settings));
  if (settings.curve.length) {
    const table = new ToneTable(curveMap(settings.curve));
    map((plane) => table.apply(plane));
  }
  return out;
}

/**
 * Adds the passes up in linear light, in their order. `take` gives each pass's light, of `size`. Screen lays one over what is under
 * it: `a + b - a b`, both held to 0..1.
 */
export function sumPasses(
  element: Element,
  size: { width: number; height: number },
  take: (pass: Pass) => Rgb,
): Rgb {
  let total: Rgb | undefined;
  for (const pass of summedPasses(element)) total = layPass(total, pass, element, take);
  return total ?? blackRgb(size.width * size.height);
}

/** Lays one pass over what there is of the sum, in place. */
function layPass(total: Rgb | undefined, pass: Pass, element: Element, take: (pass: Pass) => Rgb): Rgb {
  const settings = settingsOf(element, pass);
  const light = adjustPass(take(pass), settings);
  if (!total) return mapRgb(light, (plane) => plane.slice());
  if (settings?.mode === 'screen') screen(total, light);
  else add(total, light);
  return total;
}

/** What one pass brings to the sum under its own settings: nothing if it is not in it. */
export function shareOfSum(
  element: Element,
  size: { width: number; height: number },
  take: (pass: Pass) => Rgb,
  wanted: Pass,
): Rgb {
  const settings = settingsOf(element, wanted);
  const passes = summedPasses(element);
  if (!passes.includes(wanted)) return blackRgb(size.width * size.height);
  if (settings?.mode !== 'screen' || passes[0] === wanted) return adjustPass(take(wanted), settings);
  let total: Rgb | undefined;
  for (const pass of passes.slice(0, passes.indexOf(wanted))) total = layPass(total, pass, element, take);
  const before = mapRgb(total!, (plane) => plane.slice());
  const after = layPass(total, wanted, element, take);
  return mapRgb(after, (plane, c) => plane.map((value, i) => value - before[c]![i]!));
}

function add(total: Rgb, light: Rgb): void {
  for (let c = 0; c < 3; c++) {
    const [to, from] = [total[c]!, light[c]!];
    for (let i = 0; i < to.length; i++) to[i]! += from[i]!;
  }
}

function screen(total: Rgb, light: Rgb): void {
  for (let c = 0; c < 3; c++) {
    const [to, from] = [total[c]!, light[c]!];
    for (let i = 0; i < to.length; i++) {
      const [a, b] = [clamp(to[i]!, 0, 1), clamp(from[i]!, 0, 1)];
      to[i] = a + b - a * b;
    }
  }
}
