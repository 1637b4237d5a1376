'use client';
import { SETTINGS, settingAt } from '../../core/look/look';
import { useDesk } from '../../state/desk-store';
import { NAME, PLACE } from '../../core/settings/setting';
import { SettingRow } from './SettingRow';

/** The rows of settings by their paths. */
export function Rows({ paths }: { paths: readonly string[] }) {
  return paths.map((path) => <SettingRow key={path} setting={settingAt(path)} />);
}

/** Whether a path is the one that was looked for; of things in lists any will do. */
export const isPathOf = (path: string, revealed: string | null): boolean =>
  path === revealed || path.replace(/\[\d+\]/g, PLACE) === revealed;

/** Whether one of some settings was looked for last: its row is shown then, also where it has no say at present. */
export function useSought(paths: readonly string[]): boolean {
  return useDesk(({ revealed }) => paths.some((path) => isPathOf(path, revealed)));
}

/** The paths of the settings right below a path, without those of some names. */
export function pathsBelow(prefix: string, without: readonly string[] = []): string[] {
  return SETTINGS.map(({ path }) => path).filter((path) => {
    const name = path.startsWith(`${prefix}.`) ? path.slice(prefix.length + 1) : '';
    return name !== '' && !name.includes('.') && !name.includes('[') && !without.includes(name);
  });
}

/** Names of the groups of settings right below a path, in their order; lists and records are left out. */
export function sectionsBelow(prefix: string): { name: string; title: string }[] {
  const sections = new Map<string, string>();
  for (const { path, group } of SETTINGS) {
    const match = path.startsWith(`${prefix}.`) && /^(\w+)\.\w/.exec(path.slice(prefix.length + 1));
    if (match && !path.includes(`.${NAME}.`)) sections.set(match[1]!, sections.get(match[1]!) ?? group);
  }
  return [...sections].map(([name, title]) => ({ name, title }));
}
