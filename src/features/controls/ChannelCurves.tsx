'use client';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { useState } from 'react';
import type { Histogram } from '../../core/image/histogram';
import { settingAt } from '../../core/look/look';
import type { Setting } from '../../core/settings/setting';
import { useDesk } from '../../state/desk-store';
import { CurveEditor } from './CurveEditor';
import { isPathOf } from './Rows';

const CHANNELS = [
  { name: 'all', label: 'All', ending: 'curve' },
  { name: 'red', label: 'Red', ending: 'curves.red' },
  { name: 'green', label: 'Green', ending: 'curves.green' },
  { name: 'blue', label: 'Blue', ending: 'curves.blue' },
] as const;
type ChannelName = (typeof CHANNELS)[number]['name'];

/** Paths of the curves below a path: of all channels, and of each. */
export const channelCurvePaths = (below: string): string[] =>
  CHANNELS.map(({ ending }) => `${below}.${ending}`);

interface ChannelCurvesProps {
  /** Where in the look the curves stand. */
  below: string;
  histogram?: Histogram | undefined;
}

/** The curve of all channels and those of each, one at a time. */
export function ChannelCurves({ below, histogram }: ChannelCurvesProps) {
  const [picked, setPicked] = useState<ChannelName>('all');
  const revealed = useDesk((state) => state.revealed);
  const set = useDesk((state) => state.set);
  const sought = CHANNELS.find(({ ending }) => isPathOf(`${below}.${ending}`, revealed));
  const shown = sought ?? CHANNELS.find(({ name }) => name === picked)!;
  const pick = (name: ChannelName): void => {
    setPicked(name);
    if (sought) set({ revealed: null });
  };
  return (
    <>
      <ToggleButtonGroup
        exclusive
        size="small"
        value={shown.name}
        onChange={(_, value: ChannelName | null) => value && pick(value)}
        aria-label="Channel of the curve"
        sx={{ pb: 0.5, '.MuiToggleButton-root': { py: 0, px: 1, fontSize: 11, textTransform: 'none' } }}
      >
        {CHANNELS.map(({ name, label }) => (
          <ToggleButton key={name} value={name}>
            {label}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <CurveEditor
        key={`${below} ${shown.name}`}
        setting={settingAt(`${below}.${shown.ending}`) as Setting & { kind: 'curve' }}
        {...(histogram && { histogram })}
      />
    </>
  );
}
