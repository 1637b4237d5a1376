import { clamp } from '../image/clamp';
import { settingAt, type SettingValue } from '../look/look';
import type { LightEstimates } from './estimates';
import type { Estimate } from './light-fit';

/** What was measured of one setting. */
export interface LightProposal {
  path: string;
  /** In the setting's unit; null if there is too little evidence. */
  estimate: Estimate | null;
  /** What the setting needs to be seen: switches, and the law that it belongs to. */
  needs: readonly [path: string, value: SettingValue][];
}

/** Settings with what is measured of them. */
const PROPOSED: readonly [path: string, of: (measured: LightEstimates) => Estimate | null][] = [
  ['veil.bloom.falloff', ({ bloom }) => bloom.falloff],
  ['veil.bloom.radius', ({ bloom }) => bloom.radius],
  ['veil.bloom.amount', ({ bloom }) => bloom.amount],
  ['veil.bloom.tint', ({ tint }) => tint],
  ['pupil.blades', ({ spikes }) => spikes.blades],
  ['pupil.rotation', ({ spikes }) => spikes.rotation],
  ['veil.spikes.size', ({ spikes }) => spikes.size],
  ['veil.spikes.amount', ({ spikes }) => spikes.amount],
  ['veil.halo.radius', ({ halo }) => halo.radius],
  ['veil.halo.width', ({ halo }) => halo.width],
  ['veil.halo.amount', ({ halo }) => halo.amount],
];

function needsOf(path: string): LightProposal['needs'] {
  const part = path.startsWith('pupil.') ? 'veil.spikes' : path.slice(0, path.lastIndexOf('.'));
  const law: LightProposal['needs'] = part === 'veil.bloom' ? [['veil.bloom.law', 'power']] : [];
  return [['veil.on', true], [`${part}.on`, true], ...law];
}

/** Everything that a look may take over from a measurement, as it takes it. */
export function proposalsOf(measured: LightEstimates): LightProposal[] {
  return PROPOSED.map(([path, of]) => {
    const found = of(measured);
    const setting = settingAt(path);
    const [least, most] = setting.kind === 'number' ? [setting.min, setting.max] : [-Infinity, Infinity];
    const held = (value: number): number => clamp(Number(value.toPrecision(4)), least, most);
    return {
      path,
      needs: needsOf(path),
      estimate: found && { value: held(found.value), low: held(found.low), high: held(found.high) },
    };
  });
}

/** What was measured as settings, as on a command line; what there is too little evidence of is left out. */
export const proposedSettings = (measured: LightEstimates): string[] =>
  proposalsOf(measured).flatMap(({ path, estimate }) => (estimate ? [`${path}=${estimate.value}`] : []));
