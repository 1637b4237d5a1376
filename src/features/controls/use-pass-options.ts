'use client';
import type { PassMeta } from '../../core/settings/setting';
import { useShot } from '../../state/shot-store';
import { useOtherElements, usePlates, type PlateCard } from '../session';

/** The setting's default, which stands for whichever pass it is, and the plate's other passes of the kind. */
export function usePassOptions(
  setting: (Pick<PassMeta, 'of' | 'default'> & { path: string }) | undefined,
): readonly { value: string; label: string }[] {
  const activePlate = useShot((state) => state.activePlate);
  const whole = usePlates((state) => (activePlate ? state.cards[activePlate] : undefined));
  const elements = useOtherElements();
  if (!setting) return [];
  // What an element is made of is its own.
  const own = /^elements\[(\d+)\]/.exec(setting.path);
  const card = (own && elements[Number(own[1])]?.card) ?? whole;
  const standing = setting.of === 'light' ? card?.beauty : card?.depth;
  const others =
    card?.passes.filter((pass) => pass.light === (setting.of === 'light') && pass.name !== standing) ?? [];
  return [
    { value: setting.default, label: setting.default },
    ...others
      .filter(({ name }) => name !== setting.default)
      .map(({ name }) => ({ value: name, label: name })),
    ...(own || setting.of !== 'light' ? [] : elements.flatMap(namesWithin)),
  ];
}

/** Light of one element alone: all of it, and each of its passes. */
function namesWithin({ name, card }: { name: string; card: PlateCard }): { value: string; label: string }[] {
  const passes = card.passes.filter((pass) => pass.light && pass.name !== card.beauty);
  return [name, ...passes.map((pass) => `${name}:${pass.name}`)].map((value) => ({ value, label: value }));
}
