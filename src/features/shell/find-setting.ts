import { SETTINGS, STATION_LABELS, stationOfPath } from '../../core/look/look';
import { NAME, PLACE } from '../../core/settings/setting';

/** Settings with a field of their own in a panel; those of single passes and of lists' entries stand in their tables. */
const FINDABLE = SETTINGS.filter(
  ({ kind, path }) => !['switch', 'order', 'masks', 'document'].includes(kind) && !path.includes(`.${NAME}.`),
);

/** What can be looked for, with where it is. */
export const ENTRIES = FINDABLE.map((setting) => {
  const station = stationOfPath(setting.path);
  const place =
    setting.group === STATION_LABELS[station]
      ? setting.group
      : `${STATION_LABELS[station]}, ${setting.group}`;
  return { path: setting.path, station, label: `${place}: ${setting.label}` };
});

/** What takes the keyboard in the row of a setting; null if the row is not there. */
export function fieldOf(path: string): HTMLElement | null {
  const bare = (one: string): string => one.replace(/\[\d+\]/g, PLACE);
  // Of a list's entries the first that is shown; without one, what adds it.
  const rows = [...document.querySelectorAll<HTMLElement>('[data-setting]')];
  const row = rows.find(({ dataset }) => bare(dataset['setting']!) === path);
  if (!row && path.includes(PLACE)) {
    const list = path.slice(0, path.lastIndexOf(PLACE));
    return document.querySelector(`[data-list="${list}"]`);
  }
  return (
    row?.querySelector<HTMLElement>(
      '[role="combobox"], [role="switch"], input:not([aria-hidden="true"]), button, textarea',
    ) ?? null
  );
}
