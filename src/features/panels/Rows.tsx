'use client';
import { SETTINGS, settingAt } from '../../core/look/look';
import { SettingRow } from './SettingRow';

/** The rows of settings by their paths. */
export function Rows({ paths }: { paths: readonly string[] }) {
  return paths.map((path) => <SettingRow key={path} setting={settingAt(path)} />);
}

/** The paths of the settings right below a path, without those of some names. */
export function pathsBelow(prefix: string, without: readonly string[] = []): string[] {
  return SETTINGS.map(({ path }) => path).filter((path) => {
    const name = path.startsWith(`${prefix}.`) ? path.slice(prefix.length + 1) : '';
    return name !== '' && !name.includes('.') && !name.includes('[') && !without.includes(name);
  });
}
