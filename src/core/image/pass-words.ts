import { isComponent, isData, type Role } from './roles';

/**
 * The words that people write for passes (common practice), by what they say. Names are taken apart into them, so that case,
 * marks between words, words run together and numbers at the end do not matter.
 */
const WORDS = {
  beauty: 'beauty bty rgba rgb main master combined composite comp final full image',
  diffuse: 'diffuse diff dif lambert',
  specular: 'specular spec reflection reflections reflected reflect refl glossy gloss coat clearcoat sheen',
  transmission: 'transmission transmissive transmitted refraction refractions refracted refract refr',
  emission: 'emission emissive emitted emit incandescence incandescent selfillumination selfillum',
  indirect: 'indirect indir gi globalillumination globalillum bounced bounce bounces radiosity',
  sss: 'sss subsurface subsurfacescattering subsurfacescatter scattering scatter translucency translucence',
  volume: 'volume volumes volumetric volumetrics vol atmosphere atmos fog',
  depth: 'depth z zdepth depthz zbuffer zbuf pz',
  normal: 'normal normals n nn ng ns nrm norm nml',
  matte: 'matte mattes multimatte mask masks id ids objectid materialid crypto cryptomatte',
  /** Parts of what another word names. */
  part: 'direct dir',
  /** Not light that could be added, whatever is beside it. */
  data: `ao ambientocclusion occlusion occ albedo color colour col basecolor basecolour texture tex filter raw unlit
    unoccluded unshadowed shadow shadows shad position pos p pworld pref uv uvs st motion motionvector motionvectors velocity
    vector vectors mv facing facingratio fresnel roughness metalness metallic curvature variance noise error samples wire
    wireframe opacity coverage alpha`,
  /** Says how light falls, but not which light it is. */
  unclear: 'illumination illum',
  /** Light by the lamps it comes from. */
  lamps: 'lightgroup lightgroups lightselect lightmix lgt',
  /** Says nothing. */
  filler: `light lighting lights pass layer aov total all component out output world camera cam shading self global ambient sub
    surface object material motion base buffer group select`,
} as const;

type Meaning = keyof typeof WORDS;

const MEANINGS = new Map<string, Meaning>(
  (Object.entries(WORDS) as [Meaning, string][]).flatMap(([meaning, words]) =>
    words.split(/\s+/).map((word): [string, Meaning] => [word, meaning]),
  ),
);

const LONGEST = Math.max(...[...MEANINGS.keys()].map((word) => word.length));

/** Components whose bounced part is spoken of as indirect light. */
const BOUNCED: ReadonlySet<Meaning> = new Set(['diffuse', 'indirect']);
/** Whether a meaning is the role of light that adds up. */
const isLight = (meaning: Meaning): boolean => isComponent(meaning as Role);

/** What a pass's name says. */
export interface PassName {
  /** Undefined if no word of it is understood. */
  role: Role | undefined;
  /** What it is part of, if it is a part of a component: `diffuse` of `diffuse_direct`. */
  partOf: string | undefined;
  /** The component that it names as a whole. */
  whole: string | undefined;
  /** Why it is not taken for light that adds up, though it may be. */
  doubt: string | undefined;
  /** Whether every word of it is understood. */
  isPlain: boolean;
}

/** `GIDiffuseLighting_left2` as words: gi, diffuse, lighting, left. Words that are run together are taken apart. */
export function wordsOf(name: string): string[] {
  const written = name
    .replace(/([a-z0-9])([A-Z])/g, '$1 $2')
    .replace(/([A-Z]+)([A-Z][a-z])/g, '$1 $2')
    .toLowerCase()
    .split(/[^a-z0-9]+/)
    .map((word) => word.replace(/\d+$/, ''))
    .filter(Boolean);
  return joinKnown(written).flatMap((word) => (MEANINGS.has(word) ? [word] : (takeApart(word) ?? [word])));
}

/** Whether letters are one known word. */
export const isPassWord = (letters: string): boolean => MEANINGS.has(letters.toLowerCase());

/** Puts words together that only make sense as one: `global illumination`, `z depth`, `sub surface scattering`. */
function joinKnown(words: readonly string[]): string[] {
  const joined: string[] = [];
  for (let at = 0; at < words.length;) {
    const length = [3, 2].find((count) => {
      const run = words.slice(at, at + count);
      return run.length === count && MEANINGS.has(run.join('')) && !isTwoThings(run);
    });
    joined.push(words.slice(at, at + (length ?? 1)).join(''));
    at += length ?? 1;
  }
  return joined;
}

/** Whether each word stands for a pass by itself. */
const isTwoThings = (run: readonly string[]): boolean =>
  run.every((word) => {
    const meaning = MEANINGS.get(word);
    return meaning !== undefined && isLight(meaning);
  });

/** A word as the fewest known words that make it up, each of two letters at least. */
function takeApart(word: string): string[] | undefined {
  const best: (string[] | undefined)[] = [[]];
  for (let end = 1; end <= word.length; end++) {
    for (let start = Math.max(0, end - LONGEST); start <= end - 2; start++) {
      const before = best[start];
      const piece = word.slice(start, end);
      if (!before || !MEANINGS.has(piece)) continue;
      const known = best[end];
      if (!known || before.length + 1 < known.length) best[end] = [...before, piece];
    }
  }
  return best[word.length];
}

/** Reads the name of a pass. */
export function readPassName(name: string): PassName {
  const words = wordsOf(name);
  // A letter by itself is a pass only where it ends the name.
  const told = words
    .map((word, index) => (word.length === 1 && index < words.length - 1 ? undefined : MEANINGS.get(word)))
    .filter((meaning) => meaning !== undefined);
  const has = (meaning: Meaning): boolean => told.includes(meaning);
  const nothing = { partOf: undefined, whole: undefined, doubt: undefined };
  const isPlain = words.length > 0 && words.every((word) => MEANINGS.has(word));
  const as = (role: Role | undefined, more: Partial<PassName> = {}): PassName => ({
    ...nothing,
    role,
    isPlain,
    ...more,
  });
  const data = told.findLast((meaning) => isData(meaning as Role));
  const components = told.filter(isLight);
  const component = components.at(-1);
  if (data && told.findLastIndex((meaning) => meaning === data) > told.lastIndexOf(component!))
    return as(data as Role);
  if (has('data')) return as('other');
  if (component) {
    const direct = has('part');
    const isBounced = !direct && has('indirect') && components.some((one) => one !== 'indirect');
    const own = components.findLast((one) => one !== 'indirect') ?? component;
    const role = (isBounced && BOUNCED.has(own) ? 'indirect' : own) as Role;
    const isPart = direct || isBounced;
    return as(role, isPart ? { partOf: own } : { whole: own });
  }
  if (data) return as(data as Role);
  if (has('unclear')) return as('other', { doubt: 'illumination may be direct, bounced or emitted light' });
  if (has('lamps')) return as('other', { doubt: 'light by its lamps is in other passes already' });
  return as(has('beauty') ? 'beauty' : undefined);
}
