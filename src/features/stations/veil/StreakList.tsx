'use client';
import Add from '@mui/icons-material/Add';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { MOST_STREAKS } from '../../../core/stations/veil/settings';
import { arms } from '../../../core/stations/veil/streak-set';
import { SETTINGS } from '../../../core/look/look';
import { useShot } from '../../../state/shot-store';
import { EntryList, NumberField, putEntries, useSought, type NumberSetting } from '../../controls';
import { PartBody } from './PartBody';

const SETTINGS_OF_STREAKS = SETTINGS.map(({ path }) => path).filter((path) =>
  path.startsWith('veil.streaks['),
);

/** What a new streak is given. */
const FIRST_AMOUNT = 0.008;

const ARMS: NumberSetting = {
  kind: 'number',
  path: 'veil.streaks.arms',
  group: 'Streaks',
  label: 'Arms',
  help: 'How many arms a new set has, evenly round the light',
  unit: 'arms',
  min: 2,
  max: 16,
  step: 1,
  default: 4,
  scale: 'linear',
  shown: { factor: 1, unit: '', digits: 0 },
};

/** Lines through every light, each with settings of its own, and sets of them in one step. */
export function StreakList() {
  const streaks = useShot((state) => state.look.veil.streaks);
  const [count, setCount] = useState(ARMS.default);
  const [chosen, setChosen] = useState<number | null>(streaks.length ? 0 : null);
  const sought = useSought(SETTINGS_OF_STREAKS);
  const set = arms(Math.round(count), FIRST_AMOUNT, streaks.at(-1));
  return (
    <>
      <EntryList
        path="veil.streaks"
        entries={streaks}
        most={MOST_STREAKS}
        addLabel="New streak"
        nameOf={(index) => `Streak ${index + 1}`}
        chosen={sought ? (chosen ?? 0) : chosen}
        onChoose={setChosen}
        newEntry={() => ({ ...streaks.at(-1), amount: streaks.at(-1)?.amount || FIRST_AMOUNT })}
      >
        {(index) => <PartBody path={`veil.streaks[${index}]`} label={`Streak ${index + 1}`} />}
      </EntryList>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, pb: 0.5 }}>
        <Button
          size="small"
          color="inherit"
          startIcon={<Add />}
          disabled={streaks.length + set.length > MOST_STREAKS}
          onClick={() => putEntries('veil.streaks', [...useShot.getState().look.veil.streaks, ...set])}
          sx={{ color: 'text.secondary' }}
        >
          New set of
        </Button>
        <Box sx={{ width: 48 }}>
          <NumberField setting={ARMS} value={count} onChange={setCount} />
        </Box>
        arms
      </Box>
    </>
  );
}
