import { z } from 'zod';
import { curveSchema, type Curve } from './curve';
import { masksSchema, type Mask } from './mask';

/** The range in which real lenses lie, and who says so. */
export interface RealLensBand {
  min: number;
  max: number;
  source: string;
  /** Why a picture looks wrong below or above it, in plain words; where nothing is said, nothing is wrong there. */
  below?: string;
  above?: string;
}

interface Described {
  /** Name in the panels, sentence case. */
  label: string;
  /** One line that says what turning it does. */
  help: string;
}

export interface NumberMeta extends Described {
  kind: 'number';
  /** Unit of the stored value, as written in a look. */
  unit: string;
  min: number;
  max: number;
  step: number;
  default: number;
  band?: RealLensBand;
  /** How a slider spreads the range: evenly, or evenly in powers (needs `min` > 0 or a `floor`). */
  scale: 'linear' | 'log';
  /** Values at which slider and arrow keys halt, upward; any other may be typed. */
  stops?: readonly number[];
  /** Where a logarithmic slider begins when `min` is 0. */
  floor?: number;
  /** The panels show `value * factor` with this unit and so many digits after the point. */
  shown: { factor: number; unit: string; digits: number };
}

export interface SwitchMeta extends Described {
  kind: 'switch';
  default: boolean;
}

export interface ChoiceMeta extends Described {
  kind: 'choice';
  options: readonly { value: string; label: string }[];
  default: string;
}

/** The name of one of the plate's passes. */
export interface PassMeta extends Described {
  kind: 'pass';
  /** Which passes come into question: those that hold light, or all others. */
  of: 'light' | 'data';
  default: string;
}

/** A colour as `#rrggbb`, encoded in sRGB. A backdrop may be `none`, too, or a plate of the shot as `plate:ID`. */
export interface ColourMeta extends Described {
  kind: 'colour';
  backdrop: boolean;
  default: string;
}

/** A curve in stops from middle grey. */
export interface CurveMeta extends Described {
  kind: 'curve';
  default: Curve;
}

/** Names in an order: those that are not named come after, as they are. */
export interface OrderMeta extends Described {
  kind: 'order';
  default: readonly string[];
}

/** Names of passes, each with a weight. */
export interface WeightsMeta extends Described {
  kind: 'weights';
  /** What none means. */
  none: string;
  most: number;
  default: Weights;
}

/** The id of one of the look's masks, or a channel of the plate's mattes, or none. */
export interface MaskMeta extends Described {
  kind: 'mask';
  /** What no mask means. */
  none: string;
  default: string;
}

/** The name of one of the shot's images, or none: a picture that shapes light, or a look-up table. */
export interface ImageMeta extends Described {
  kind: 'image';
  of: 'grey' | 'lut';
  default: string;
}

/** The masks themselves. */
export interface MasksMeta extends Described {
  kind: 'masks';
  default: readonly Mask[];
}

/** A line of text. */
export interface TextMeta extends Described {
  kind: 'text';
  default: string;
}

/** Something with a form of its own, such as a lens design, or none. */
export interface DocumentMeta extends Described {
  kind: 'document';
  /** What it is, in words. */
  what: string;
  /** The form that it has. */
  schema: z.ZodType;
  default: null;
}

export type SettingMeta =
  | NumberMeta
  | SwitchMeta
  | ChoiceMeta
  | PassMeta
  | ColourMeta
  | CurveMeta
  | OrderMeta
  | WeightsMeta
  | MaskMeta
  | ImageMeta
  | MasksMeta
  | TextMeta
  | DocumentMeta;

/** Weights by name. */
export type Weights = Readonly<Record<string, number>>;

/** A value a setting can have. */
export type SettingValue =
  | number
  | boolean
  | string
  | Curve
  | readonly string[]
  | readonly Mask[]
  | Readonly<Record<string, unknown>>
  | null;

/** A setting with its place in the look: `veil.bloom.amount`. */
export type Setting = SettingMeta & { path: string; group: string };

const settings = z.registry<SettingMeta>();
const sections = z.registry<{ label: string }>();

type NumberOptions = Omit<NumberMeta, 'kind' | 'scale' | 'shown'> &
  Partial<Pick<NumberMeta, 'scale' | 'shown'>>;

/** A number with everything that panels, command line, validation and documentation need to know about it. */
export function number(options: NumberOptions) {
  const meta: NumberMeta = {
    kind: 'number',
    scale: 'linear',
    shown: { factor: 1, unit: options.unit, digits: 2 },
    ...options,
  };
  return z.number().min(meta.min).max(meta.max).register(settings, meta).default(meta.default);
}

export function toggle(options: Omit<SwitchMeta, 'kind'>) {
  return z
    .boolean()
    .register(settings, { kind: 'switch', ...options })
    .default(options.default);
}

export function choice<const V extends string>(
  options: Described & { options: readonly { value: V; label: string }[]; default: NoInfer<V> },
) {
  const values = options.options.map((option) => option.value) as [V, ...V[]];
  const schema: z.ZodType<V, V> = z.enum(values) as unknown as z.ZodType<V, V>;
  return schema
    .register(settings, { kind: 'choice', ...options })
    .default(options.default as never) as unknown as z.ZodDefault<z.ZodType<V, V>>;
}

export function pass(options: Omit<PassMeta, 'kind' | 'of'> & Partial<Pick<PassMeta, 'of'>>) {
  return z
    .string()
    .min(1)
    .max(255)
    .register(settings, { kind: 'pass', of: 'light', ...options })
    .default(options.default);
}

export const NO_COLOUR = 'none';
export const COLOUR = /^#[0-9a-f]{6}$/i;
export const BACKDROP = /^(none|#[0-9a-f]{6}|plate:.{1,1000})$/i;

export function colour(options: Omit<ColourMeta, 'kind'>) {
  return z
    .string()
    .regex(options.backdrop ? BACKDROP : COLOUR)
    .register(settings, { kind: 'colour', ...options })
    .default(options.default);
}

export function curve(options: Omit<CurveMeta, 'kind' | 'default'>) {
  return curveSchema.register(settings, { kind: 'curve', default: [], ...options }).default([]);
}

export function order(options: Omit<OrderMeta, 'kind' | 'default'>) {
  return z
    .array(z.string().min(1).max(255))
    .max(4096)
    .register(settings, { kind: 'order', default: [], ...options })
    .default([]);
}

/** Names of passes with weights from 0 to `most`. */
export function weights(options: Omit<WeightsMeta, 'kind' | 'default'>) {
  return z
    .record(z.string().min(1).max(255), z.number().min(0).max(options.most))
    .register(settings, { kind: 'weights', default: {}, ...options })
    .default({});
}

/** What stands for no mask. */
export const NO_MASK = '';

export function mask(options: Omit<MaskMeta, 'kind' | 'none' | 'default'> & Partial<Pick<MaskMeta, 'none'>>) {
  return z
    .string()
    .max(64)
    .register(settings, { kind: 'mask', none: 'everywhere', default: NO_MASK, ...options })
    .default(NO_MASK);
}

/** What stands for no image. */
export const NO_IMAGE = '';

export function image(options: Omit<ImageMeta, 'kind' | 'of' | 'default'> & Partial<Pick<ImageMeta, 'of'>>) {
  return z
    .string()
    .max(1000)
    .register(settings, { kind: 'image', of: 'grey', default: NO_IMAGE, ...options })
    .default(NO_IMAGE);
}

export function masks(options: Omit<MasksMeta, 'kind' | 'default'>) {
  return masksSchema.register(settings, { kind: 'masks', default: [], ...options }).default([]);
}

export const MOST_LETTERS = 64;

export function text(options: Omit<TextMeta, 'kind' | 'default'>) {
  return z
    .string()
    .max(MOST_LETTERS)
    .register(settings, { kind: 'text', default: '', ...options })
    .default('');
}

/** Something with a schema of its own, or null. */
export function document<T>(
  options: Omit<DocumentMeta, 'kind' | 'default' | 'schema'> & { schema: z.ZodType<T> },
) {
  const schema: z.ZodNullable<z.ZodType<T>> = z.nullable(options.schema);
  const meta: DocumentMeta = { kind: 'document', default: null, ...options };
  (settings as { add(schema: z.core.$ZodType, meta: SettingMeta): unknown }).add(schema, meta);
  return schema.default(null as never);
}

/** Settings that each name may have: a record of one section's settings, all at their defaults where nothing is said. */
export function each<S extends z.ZodRawShape>(shape: S) {
  return z.record(z.string().min(1).max(255), z.strictObject(shape).prefault({} as never)).default({});
}

/** A list of things that each have the same settings, all at their defaults where nothing is said. */
export function list<S extends z.ZodRawShape>(label: string, shape: S, most: number) {
  const one = z.strictObject(shape).register(sections, { label });
  return z
    .array(one.prefault({} as never))
    .max(most)
    .default([]);
}

/** A titled group of settings. Unknown keys are refused, missing ones (or the whole group) take their defaults. */
export function section<S extends z.ZodRawShape>(label: string, shape: S) {
  return z
    .strictObject(shape)
    .register(sections, { label })
    .prefault({} as never);
}

function unwrap(schema: z.core.$ZodType): z.core.$ZodType {
  if (settings.has(schema)) return schema;
  const inner = (schema as { def?: { innerType?: z.core.$ZodType } }).def?.innerType;
  return inner ? unwrap(inner) : schema;
}

/** Stands in a path for a name: of a pass, of a pair of surfaces. */
export const NAME = 'NAME';
/** Stands in a path for the place in a list, from 0. */
export const PLACE = '[i]';

/** All settings below a schema, in the order in which they are written there. */
export function collectSettings(schema: z.core.$ZodType, prefix = '', group = ''): Setting[] {
  const bare = unwrap(schema);
  const meta = settings.get(bare);
  if (meta) return [{ ...(meta as unknown as SettingMeta), path: prefix, group }];
  if (bare instanceof z.ZodRecord) return collectSettings(bare.valueType, `${prefix}.${NAME}`, group);
  if (bare instanceof z.ZodArray) return collectSettings(bare.element, `${prefix}${PLACE}`, group);
  if (!(bare instanceof z.ZodObject)) return [];
  const label = sections.get(bare)?.label ?? group;
  return Object.entries(bare.shape as Record<string, z.core.$ZodType>).flatMap(([key, value]) =>
    collectSettings(value, prefix ? `${prefix}.${key}` : key, label),
  );
}
