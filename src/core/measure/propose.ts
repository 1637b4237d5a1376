import type { LightMeasurement } from './measure';

/** What was measured as settings, as on a command line; what there is too little evidence of is left out. */
export function proposedSettings({ bloom, spikes, halo, tint }: LightMeasurement): string[] {
  const of = (path: string, value: number | undefined): string[] =>
    value === undefined ? [] : [`${path}=${Number(value.toPrecision(4))}`];
  const held = (value: number | undefined, least: number, most: number): number | undefined =>
    value === undefined ? undefined : Math.min(most, Math.max(least, value));
  return [
    ...of('veil.bloom.falloff', held(bloom.falloff?.value, 1.5, 4)),
    ...of('veil.bloom.radius', held(bloom.radius?.value, 0.0002, 0.25)),
    ...of('veil.bloom.amount', held(bloom.amount?.value, 0, 1)),
    ...of('veil.bloom.tint', held(tint?.value, 1800, 25000)),
    ...of('pupil.blades', spikes.blades?.value),
    ...of('pupil.rotation', held(spikes.rotation?.value, -180, 180)),
    ...of('veil.spikes.size', held(spikes.size?.value, 0.1, 200)),
    ...of('veil.halo.radius', held(halo.radius?.value, 0.005, 1)),
    ...of('veil.halo.width', held(halo.width?.value, 0.01, 1)),
  ];
}
