import { fitsSetting } from '../../core/look/look';
import type { Setting, SettingValue } from '../../core/settings/setting';
import { readQuantity } from '../common';

/** A value as it is typed: numbers in the unit that they are shown in. Undefined if it does not fit. */
export function readValue(setting: Setting, text: string): SettingValue | undefined {
  const typed = text.trim();
  if (setting.kind === 'switch') return typed === 'on' ? true : typed === 'off' ? false : undefined;
  if (setting.kind === 'choice')
    return setting.options.find(({ label, value }) => [label, value].includes(typed))?.value;
  if (setting.kind !== 'number') return fitsSetting(setting, typed) ? typed : undefined;
  const { factor, unit } = setting.shown;
  const number = readQuantity(typed, unit);
  const value = number === undefined ? NaN : Number((number / factor).toPrecision(12));
  return fitsSetting(setting, value) ? value : undefined;
}
