'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { shakeCamera, shakeOf, type CameraShake } from '../../../core/look/camera-shake';
import { useDesk } from '../../../state/desk-store';
import { plateOnBench } from '../../../state/reel-shown';
import { useShot } from '../../../state/shot-store';
import { TextField } from '../../common';
import { usePlates } from '../../session';

/** A camera in the hand. */
const IN_THE_HAND: CameraShake = { size: 0.01, roll: 0.3, rate: 0.12, seed: 1 };

interface Field {
  name: keyof CameraShake;
  label: string;
  unit: string;
  factor: number;
  most: number;
}

const FIELDS: readonly Field[] = [
  { name: 'size', label: 'by up to', unit: '% h', factor: 100, most: 50 },
  { name: 'roll', label: 'roll', unit: '°', factor: 1, most: 45 },
  { name: 'rate', label: 'turns a frame', unit: '', factor: 1, most: 10 },
  { name: 'seed', label: 'seed', unit: '', factor: 1, most: 9997 },
];

/** Lets the camera shake over time, smoothly, and holds it still again. */
export function ShakeCamera() {
  const tracks = useShot((state) => state.tracks);
  const shaking = shakeOf(tracks);
  const [last, setLast] = useState(IN_THE_HAND);
  const shake = shaking ?? last;
  const take = (next: CameraShake | undefined): void => {
    const plate = plateOnBench();
    const card = plate && usePlates.getState().cards[plate.id];
    const { look, setLookOverTime } = useShot.getState();
    const framing = card
      ? { frame: card.frame, size: card }
      : { frame: { x: 0, y: 0, width: 16, height: 9 }, size: { width: 16, height: 9 } };
    const over = shakeCamera({ look, tracks }, next, framing);
    setLookOverTime(over.look, over.tracks);
  };
  const change = (next: CameraShake): void => {
    setLast(next);
    if (shaking) take(next);
  };
  const begin = (): void => {
    take(shake);
    useDesk.getState().set({ reel: true });
  };
  return (
    <Box sx={{ pt: 0.75, fontSize: 11, color: 'text.secondary' }}>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.75, alignItems: 'center' }}>
        <Button
          size="small"
          variant="outlined"
          color={shaking ? 'primary' : 'inherit'}
          aria-pressed={shaking !== undefined}
          onClick={() => (shaking ? take(undefined) : begin())}
          sx={{ fontSize: 11, py: 0.25, whiteSpace: 'nowrap' }}
        >
          {shaking ? 'Hold it still' : 'Let it shake'}
        </Button>
        {FIELDS.map(({ name, label, unit, factor, most }) => {
          const read = (text: string): number => Number(text.replace(unit, '').trim());
          const fits = (value: number): boolean =>
            value >= 0 && value <= most && (name !== 'seed' || Number.isInteger(value));
          return (
            <Box key={name} component="span" sx={{ display: 'inline-flex', alignItems: 'center', gap: 0.5 }}>
              {label}
              <Box sx={{ width: 54 }}>
                <TextField
                  label={`Shake: ${label}`}
                  value={`${Number((shake[name] * factor).toPrecision(4))} ${unit}`.trim()}
                  problem={(text) => (fits(read(text)) ? undefined : `a number from 0 to ${most}`)}
                  onTake={(text) => change({ ...shake, [name]: read(text) / factor })}
                />
              </Box>
            </Box>
          );
        })}
      </Box>
    </Box>
  );
}
