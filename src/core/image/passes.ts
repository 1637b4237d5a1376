import type { Channel, Picture } from './picture';
import { readPassName, type PassName } from './pass-words';
import { isComponent, isData, type Role } from './roles';

/** How a pass's channels are read. */
export type PassKind = 'colour' | 'grey' | 'depth' | 'normal' | 'matte' | 'other';

/** A named group of channels. */
export interface Pass {
  name: string;
  kind: PassKind;
  role: Role;
  /** Why it is not taken for light that adds up, though it may be. */
  doubt?: string | undefined;
  /** In the order in which they are shown: R G B A, X Y Z, then by name. */
  channels: { label: string; channel: Channel }[];
}

/** Name of the pass made of the main channels, and of a layer that says it is the whole picture. */
export const BEAUTY = 'beauty';

const MAIN = new Set(['R', 'G', 'B', 'A', 'Y', 'RY', 'BY']);
const ORDER = ['R', 'G', 'B', 'A', 'X', 'Y', 'Z'];

/** Splits a channel's name at its last dot: `diffuse.R` is channel R of layer diffuse. */
function splitName(name: string): { layer: string; label: string } {
  const dot = name.lastIndexOf('.');
  return dot < 0 ? { layer: '', label: name } : { layer: name.slice(0, dot), label: name.slice(dot + 1) };
}

/** The pass that a channel belongs to. */
function passName(channel: string): string {
  const { layer, label } = splitName(channel);
  return layer || (MAIN.has(label) ? BEAUTY : label);
}

/**
 * Groups a picture's channels into passes. Main channels without a layer become the beauty; every other channel
 * without a layer is a pass of its own. Nothing is left out, recognised or not. `roles` corrects, by pass, what the
 * names seem to tell.
 */
export function passesOf(picture: Picture, roles: Readonly<Record<string, Role>> = {}): Pass[] {
  const groups = new Map<string, Pass['channels']>();
  for (const channel of picture.channels.values()) {
    const name = passName(channel.name);
    const members = groups.get(name) ?? [];
    members.push({ label: splitName(channel.name).label, channel });
    groups.set(name, members);
  }
  const passes = [...groups].map(([name, channels]): Pass => {
    channels.sort((a, b) => rank(a.label) - rank(b.label) || (a.label < b.label ? -1 : 1));
    const labels = channels.map((member) => member.label.toUpperCase());
    const told = Object.hasOwn(roles, name) ? { role: roles[name]! } : guessRole(name, labels);
    return { name, ...told, kind: kindOf(told.role, labels), channels };
  });
  return leaveOutParts(passes, roles).sort(
    (a, b) => Number(b.role === 'beauty') - Number(a.role === 'beauty'),
  );
}

/** Of a component that comes both whole and in parts, the whole counts: with the parts its light would be there twice. */
function leaveOutParts(passes: readonly Pass[], roles: Readonly<Record<string, Role>>): Pass[] {
  const counts = (pass: Pass): boolean => holdsLight(pass) && isComponent(pass.role);
  const readings = new Map(passes.map((pass) => [pass, nameOf(pass.name)]));
  return passes.map((pass) => {
    const { partOf } = readings.get(pass)!;
    if (!partOf || Object.hasOwn(roles, pass.name) || !counts(pass)) return pass;
    const whole = passes.find((one) => counts(one) && readings.get(one)!.whole === partOf);
    return whole ? { ...pass, role: 'other', doubt: `it is a part of ${whole.name}` } : pass;
  });
}

/** What a pass's name says: its last part, or else all of it. */
function nameOf(name: string): PassName {
  const last = readPassName(name.split('.').at(-1)!);
  return last.role ? last : readPassName(name);
}

function rank(label: string): number {
  const index = ORDER.indexOf(label.toUpperCase());
  return index < 0 ? ORDER.length : index;
}

const hasAll = (labels: string[], wanted: string): boolean =>
  [...wanted].every((label) => labels.includes(label));

function guessRole(name: string, labels: string[]): Pick<Pass, 'role' | 'doubt'> {
  const { role, doubt } = nameOf(name);
  if (role) return { role, doubt };
  if (labels.length === 1 && (labels[0] === 'Z' || labels[0] === 'DEPTH')) return { role: 'depth' };
  return { role: hasAll(labels, 'XYZ') ? 'normal' : 'other' };
}

function kindOf(role: Role, labels: string[]): PassKind {
  if (isData(role)) return role as 'depth' | 'normal' | 'matte';
  if (hasAll(labels, 'RGB')) return 'colour';
  return labels.includes('Y') && labels.every((label) => label === 'Y' || label === 'A') ? 'grey' : 'other';
}

/** Light can be taken from a pass of these kinds. */
export function holdsLight(pass: Pass): boolean {
  return pass.kind === 'colour' || pass.kind === 'grey';
}

/** The pass that is the whole picture: the main channels, one that says it is, or the first that holds light. */
export function findBeauty(passes: readonly Pass[]): Pass | undefined {
  const light = passes.filter(holdsLight);
  const whole = light.filter((pass) => pass.role === 'beauty');
  return whole.find((pass) => pass.name === BEAUTY) ?? whole[0] ?? light[0];
}

/** The depth by its role; or else the only pass that is a single channel of which nothing is known. */
export function findDepth(passes: readonly Pass[]): Pass | undefined {
  const named = passes.find((pass) => pass.role === 'depth');
  const unknown = passes.filter(
    (pass) => pass.role === 'other' && pass.channels.length === 1 && !nameOf(pass.name).role,
  );
  return named ?? (unknown.length === 1 ? unknown[0] : undefined);
}

/** The channels that make a pass's red, green and blue (a grey pass gives its one three times), and its alpha. */
export function lightChannels(pass: Pass): { rgb: [Channel, Channel, Channel]; alpha: Channel | undefined } {
  const find = (label: string): Channel | undefined =>
    pass.channels.find((member) => member.label.toUpperCase() === label)?.channel;
  const grey = find('Y') ?? pass.channels[0]!.channel;
  return { rgb: [find('R') ?? grey, find('G') ?? grey, find('B') ?? grey], alpha: find('A') };
}
