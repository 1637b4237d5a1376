import type { Channel, Picture } from './picture';

/** What a pass holds, as far as its channels' names tell. */
export type PassKind = 'colour' | 'grey' | 'depth' | 'normal' | 'matte' | 'other';

/** A named group of channels. */
export interface Pass {
  name: string;
  kind: PassKind;
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

/**
 * Groups a picture's channels into passes. Main channels without a layer become the beauty; every other channel
 * without a layer is a pass of its own. Nothing is left out, recognised or not.
 */
export function passesOf(picture: Picture): Pass[] {
  const groups = new Map<string, Pass['channels']>();
  for (const channel of picture.channels.values()) {
    const { layer, label } = splitName(channel.name);
    const name = layer || (MAIN.has(label) ? BEAUTY : label);
    const members = groups.get(name) ?? [];
    members.push({ label, channel });
    groups.set(name, members);
  }
  const passes = [...groups].map(([name, channels]): Pass => {
    channels.sort((a, b) => rank(a.label) - rank(b.label) || (a.label < b.label ? -1 : 1));
    return {
      name,
      kind: kindOf(
        name,
        channels.map((member) => member.label),
      ),
      channels,
    };
  });
  return passes.sort((a, b) => Number(b.name === BEAUTY) - Number(a.name === BEAUTY));
}

function rank(label: string): number {
  const index = ORDER.indexOf(label.toUpperCase());
  return index < 0 ? ORDER.length : index;
}

function kindOf(name: string, labels: string[]): PassKind {
  const upper = labels.map((label) => label.toUpperCase());
  const last = name.split('.').at(-1)!.toLowerCase();
  if (/^(z|depth|zdepth)$/.test(last)) return 'depth';
  if (/matte|mask|crypto|^id$/.test(last)) return 'matte';
  if (/^(n|normal|normals)$/.test(last)) return 'normal';
  if (['R', 'G', 'B'].every((label) => upper.includes(label))) return 'colour';
  if (upper.length === 1 && (upper[0] === 'Z' || upper[0] === 'DEPTH')) return 'depth';
  if (upper.includes('Y') && upper.every((label) => label === 'Y' || label === 'A')) return 'grey';
  if (['X', 'Y', 'Z'].every((label) => upper.includes(label))) return 'normal';
  return 'other';
}

/** Light can be taken from a pass of these kinds. */
export function holdsLight(pass: Pass): boolean {
  return pass.kind === 'colour' || pass.kind === 'grey';
}

/** The pass that is the whole picture: the main channels, a layer named so, or the first that holds light. */
export function findBeauty(passes: readonly Pass[]): Pass | undefined {
  const light = passes.filter(holdsLight);
  return (
    light.find((pass) => pass.name === BEAUTY) ??
    light.find((pass) => /^(rgba?|combined|composite|final|image)$/i.test(pass.name.split('.').at(-1)!)) ??
    light[0]
  );
}

export function findDepth(passes: readonly Pass[]): Pass | undefined {
  return passes.find((pass) => pass.kind === 'depth');
}

/** The channels that make a pass's red, green and blue (a grey pass gives its one three times), and its alpha. */
export function lightChannels(pass: Pass): { rgb: [Channel, Channel, Channel]; alpha: Channel | undefined } {
  const find = (label: string): Channel | undefined =>
    pass.channels.find((member) => member.label.toUpperCase() === label)?.channel;
  const grey = find('Y') ?? pass.channels[0]!.channel;
  return { rgb: [find('R') ?? grey, find('G') ?? grey, find('B') ?? grey], alpha: find('A') };
}
