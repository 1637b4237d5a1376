'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { MOST_STREAKS } from '../../../core/stations/veil/settings';
import { arms } from '../../../core/stations/veil/streak-set';
import { useShot } from '../../../state/shot-store';
import { EntryList, NumberField, putEntries, type NumberSetting } from '../../controls';
import { PartBody } from './PartBody';

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
  const set = arms(Math.round(count), FIRST_AMOUNT, streaks.at(-1));
  return (
    <>
      <EntryList
        path="veil.streaks"
        entries={streaks}
        most={MOST_STREAKS}
        addLabel="New streak"
        nameOf={(index) => `Streak ${index + 1}`}
        newEntry={() => ({ ...streaks.at(-1), amount: streaks.at(-1)?.amount || FIRST_AMOUNT })}
      >
        {(index) => <PartBody path={`veil.streaks[${index}]`} label={`Streak ${index + 1}`} />}
      </EntryList>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, pb: 0.5 }}>
        <Button
          size="small"
          color="inherit"
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
