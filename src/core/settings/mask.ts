import { z } from 'zod';

const share = z.number().min(-4).max(5);
/** A place in the frame: shares of its width and of its height. */
const place = z.tuple([share, share]);
const feather = z.number().min(0).max(2);

const common = {
  /** How the shape joins those before it. The first one stands alone. */
  combine: z.enum(['add', 'subtract', 'intersect']).default('add'),
  invert: z.boolean().default(false),
};

/** One shape of a mask. Lengths (radii, feather) are shares of the frame's height. */
const shapeSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('ellipse'),
    centre: place,
    radii: z.tuple([z.number().gt(0).max(4), z.number().gt(0).max(4)]),
    /** Degrees, clockwise. */
    rotation: z.number().min(-360).max(360).default(0),
    feather: feather.default(0.1),
    ...common,
  }),
  z.strictObject({
    kind: z.literal('polygon'),
    points: z.array(place).min(3).max(256),
    feather: feather.default(0.05),
    ...common,
  }),
  z.strictObject({
    kind: z.literal('gradient'),
    /** Where it is 1, and where it is 0. */
    from: place,
    to: place,
    ...common,
  }),
  z.strictObject({
    kind: z.literal('matte'),
    /** A channel of a matte pass (`matte.boats`). */
    channel: z.string().min(1).max(255),
    /** The number that the channel must hold; without it, its value is the coverage. */
    id: z.number().nullable().default(null),
    ...common,
  }),
  z.strictObject({
    kind: z.literal('value'),
    /** Whose value: light of a pass, its hue, or the distance. */
    of: z.enum(['luminance', 'red', 'green', 'blue', 'hue', 'depth']),
    /** A pass that holds light; beauty is the whole picture. A distance takes none. */
    pass: z.string().min(1).max(255).default('beauty'),
    /** It is 1 between the two: scene-linear light, degrees of hue from red on, or metres. Without an end, up to any value. */
    from: z.number().min(0).max(1e6),
    to: z.number().min(0).max(1e6).nullable().default(null),
    /** How far beyond them it fades: stops (doublings), or degrees of hue. */
    soft: z.number().min(0).max(180).default(0.5),
    ...common,
  }),
]);

export const maskSchema = z.strictObject({
  id: z.string().min(1).max(64),
  name: z.string().min(1).max(100),
  invert: z.boolean().default(false),
  shapes: z.array(shapeSchema).max(64),
});

export const masksSchema = z
  .array(maskSchema)
  .max(64)
  .refine((masks) => new Set(masks.map(({ id }) => id)).size === masks.length, {
    message: 'two masks have the same id',
  });

export type MaskShape = z.output<typeof shapeSchema>;
export type ShapeKind = MaskShape['kind'];
/** Shapes that are drawn on the picture. */
export type DrawnShape = Exclude<MaskShape, { kind: 'matte' | 'value' }>;
export type ValueShape = Extract<MaskShape, { kind: 'value' }>;

export const isDrawn = (shape: MaskShape): shape is DrawnShape =>
  shape.kind !== 'matte' && shape.kind !== 'value';
export type Mask = z.output<typeof maskSchema>;
