/**
 * What a pass is to the picture. The components of light add up to the beauty (common practice); the rest is data, or
 * is left alone.
 */
export const ROLES = [
  { value: 'beauty', label: 'Beauty' },
  { value: 'diffuse', label: 'Diffuse' },
  { value: 'specular', label: 'Specular' },
  { value: 'transmission', label: 'Transmission' },
  { value: 'emission', label: 'Emission' },
  { value: 'indirect', label: 'Indirect' },
  { value: 'sss', label: 'Subsurface' },
  { value: 'volume', label: 'Volume' },
  { value: 'depth', label: 'Depth' },
  { value: 'normal', label: 'Normal' },
  { value: 'matte', label: 'Matte' },
  { value: 'other', label: 'Other' },
] as const;

export type Role = (typeof ROLES)[number]['value'];

export const ROLE_VALUES = ROLES.map(({ value }) => value) as [Role, ...Role[]];

const COMPONENTS: ReadonlySet<Role> = new Set([
  'diffuse',
  'specular',
  'transmission',
  'emission',
  'indirect',
  'sss',
  'volume',
]);

/** Whether passes of a role add up to the beauty. */
export function isComponent(role: Role): boolean {
  return COMPONENTS.has(role);
}

/** Whether the values of a role are not colour. */
export function isData(role: Role): boolean {
  return role === 'depth' || role === 'normal' || role === 'matte';
}
