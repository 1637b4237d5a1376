'use client';
import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import type { ValueShape } from '../../../core/settings/mask';
import { useShot } from '../../../state/shot-store';
import { TextField } from '../../common';
import { SELECT_SX } from '../../controls';
import { useOtherElements, usePlates } from '../../session';
import { NameChoice } from './NameChoice';

/** What a mask goes by, with how its figures are named and what range it begins with. */
const KINDS: Record<
  ValueShape['of'],
  { label: string; unit: string; range: [number, number | null, number] }
> = {
  luminance: { label: 'Luminance', unit: 'scene-linear, soft in stops', range: [1, null, 1] },
  red: { label: 'Red', unit: 'scene-linear, soft in stops', range: [1, null, 1] },
  green: { label: 'Green', unit: 'scene-linear, soft in stops', range: [1, null, 1] },
  blue: { label: 'Blue', unit: 'scene-linear, soft in stops', range: [1, null, 1] },
  hue: { label: 'Hue', unit: 'degrees: red 0, green 120, blue 240', range: [20, 60, 20] },
  depth: { label: 'Depth', unit: 'm, soft in stops', range: [0, 10, 0.5] },
};

const OPEN = 'open';
/** The schema's limits (settings/mask.ts). */
const MOST = 1e6;
const SOFTEST = 180;

/** Reads `from to soft`; `open` in place of an end is none. */
export function readRange(text: string): Pick<ValueShape, 'from' | 'to' | 'soft'> | undefined {
  const parts = text.trim().split(/[\s,;]+/);
  const [from, to, soft] = parts.map((part) => (part === OPEN ? null : Number(part)));
  if (parts.length !== 3 || typeof from !== 'number' || to === undefined || typeof soft !== 'number')
    return undefined;
  const fits = (value: number, most: number): boolean => value >= 0 && value <= most;
  return fits(from, MOST) && (to === null || fits(to, MOST)) && fits(soft, SOFTEST)
    ? { from, to, soft }
    : undefined;
}

interface ValueChoiceProps {
  shape: ValueShape;
  label: string;
  onChange: (shape: ValueShape) => void;
}

/** Whose value a mask goes by, of which pass, and between which ends. */
export function ValueChoice({ shape, label, onChange }: ValueChoiceProps) {
  const activePlate = useShot((state) => state.activePlate);
  const card = usePlates((state) => (activePlate ? state.cards[activePlate] : undefined));
  const elements = useOtherElements();
  const own = card?.passes.filter(({ light }) => light).map(({ name }) => name) ?? [];
  const passes = [
    ...own,
    ...elements.flatMap((one) => [
      one.name,
      ...one.card.passes.filter(({ light }) => light).map((pass) => `${one.name}:${pass.name}`),
    ]),
  ];
  const names = `from, to (or ${OPEN}), soft; ${KINDS[shape.of].unit}`;
  return (
    <>
      <Box sx={{ display: 'flex', gap: 0.5 }}>
        <Select
          value={shape.of}
          onChange={(event) => {
            const of = event.target.value as ValueShape['of'];
            const [from, to, soft] = KINDS[of].range;
            onChange({ ...shape, of, from, to, soft });
          }}
          variant="outlined"
          inputProps={{ 'aria-label': `${label} goes by` }}
          sx={{ ...SELECT_SX, flex: 1 }}
        >
          {Object.entries(KINDS).map(([value, { label: name }]) => (
            <MenuItem key={value} value={value} dense>
              {name}
            </MenuItem>
          ))}
        </Select>
        {shape.of !== 'depth' && (
          <NameChoice
            label={`${label} pass`}
            names={passes}
            value={shape.pass}
            onChange={(pass) => onChange({ ...shape, pass })}
          />
        )}
      </Box>
      <TextField
        label={`${label}: ${names}`}
        value={[shape.from, shape.to ?? OPEN, shape.soft].join(' ')}
        problem={(text) => (readRange(text) ? undefined : `three are wanted: ${names}`)}
        onTake={(text) => onChange({ ...shape, ...readRange(text)! })}
      />
      <Box sx={{ fontSize: 11, color: 'text.secondary' }}>{names}</Box>
    </>
  );
}
