import { SETTINGS } from './look';
import type { Setting } from '../settings/setting';

function range(setting: Setting): string {
  switch (setting.kind) {
    case 'number':
      return `${setting.min} to ${setting.max} ${setting.unit}`;
    case 'switch':
      return 'true or false';
    case 'choice':
      return setting.options.map((option) => option.value).join(', ');
    case 'pass':
      return 'name of a pass';
    case 'colour':
      return setting.backdrop ? '#rrggbb, none or plate:ID' : '#rrggbb';
    case 'curve':
      return 'points x:y in stops';
    case 'order':
      return 'names of passes';
    case 'weights':
      return `names of passes with weights from 0 to ${setting.most}`;
    case 'mask':
      return 'id of a mask, or none';
    case 'image':
      return 'name of an image, or none';
    case 'masks':
      return 'masks as JSON';
    case 'text':
      return 'text';
    case 'document':
      return `${setting.what} as JSON, or none`;
  }
}

function defaultText(setting: Setting): string {
  const value = setting.default;
  return typeof value === 'object' || value === '' ? 'none' : String(value as string | number | boolean);
}

function band(setting: Setting): string {
  if (setting.kind !== 'number' || !setting.band) return '';
  return `${setting.band.min} to ${setting.band.max} (${setting.band.source})`;
}

/** Every setting as text for a terminal. */
export function describeSettings(): string {
  return SETTINGS.map((setting) => {
    const real = band(setting);
    return [
      `${setting.path}   ${range(setting)}   default ${defaultText(setting)}`,
      `    ${setting.help}.`,
      ...(real ? [`    Real lenses: ${real}.`] : []),
    ].join('\n');
  }).join('\n');
}

/** Every setting as a Markdown table, for the docs. */
export function settingsTable(): string {
  const rows = SETTINGS.map(
    (setting) =>
      `| \`${setting.path}\` | ${range(setting)} | \`${defaultText(setting)}\` | ${band(setting)} | ${setting.help} |`,
  );
  return [
    '| setting | range | default | real lenses | what it does |',
    '| --- | --- | --- | --- | --- |',
    ...rows,
  ].join('\n');
}
