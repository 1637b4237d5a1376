import { SETTINGS } from '../../core/look/look';
import { describeSettings } from '../../core/look/describe';

/** Lists every setting with its unit, range, default, real-lens band and help. */
export function settings(options: { json?: boolean }): void {
  process.stdout.write(options.json ? `${JSON.stringify(SETTINGS, null, 2)}\n` : `${describeSettings()}\n`);
}
