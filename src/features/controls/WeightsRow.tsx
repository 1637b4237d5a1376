'use client';
import Close from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import { BEAUTY } from '../../core/image/passes';
import { getSetting } from '../../core/look/look';
import type { Setting, Weights, WeightsMeta } from '../../core/settings/setting';
import { useShot } from '../../state/shot-store';
import { SELECT_SX } from './ChoiceRow';
import { NumberField, type NumberSetting } from './NumberRow';
import { ResetMark, ROW_COLUMNS, RowLabel } from './row';
import { usePassOptions } from './use-pass-options';

/** Passes with a weight each: chosen from those of the plate, weighted by typing or dragging, taken out again. */
export function WeightsRow({ setting }: { setting: Setting & WeightsMeta }) {
  const weights = useShot((state) => getSetting(state.look, setting.path) as Weights);
  const change = useShot((state) => state.change);
  const passes = usePassOptions({ of: 'light', default: BEAUTY, path: setting.path });
  const names = Object.keys(weights);
  const left = passes.filter(({ value }) => !names.includes(value));
  return (
    <Box sx={ROW_COLUMNS} data-setting={setting.path}>
      <RowLabel setting={setting} />
      <Select
        value=""
        displayEmpty
        renderValue={() => (names.length ? 'Add a pass' : setting.none)}
        onChange={(event) => change(setting.path, { ...weights, [event.target.value]: 1 })}
        variant="outlined"
        disabled={left.length === 0}
        inputProps={{ 'aria-label': `${setting.group} ${setting.label}` }}
        sx={{ ...SELECT_SX, gridColumn: '2 / 4' }}
      >
        {left.map(({ value, label }) => (
          <MenuItem key={value} value={value} dense>
            {label}
          </MenuItem>
        ))}
      </Select>
      <ResetMark setting={setting} changed={names.length > 0} />
      {names.map((name) => (
        <Box key={name} sx={{ gridColumn: '2 / 5', display: 'flex', alignItems: 'center', gap: 0.75 }}>
          <Box sx={{ width: 66 }}>
            <NumberField
              setting={weightSetting(setting, name)}
              value={weights[name]!}
              onChange={(weight) => change(setting.path, { ...weights, [name]: weight })}
            />
          </Box>
          <Box sx={{ flex: 1, minWidth: 0, overflow: 'hidden', textOverflow: 'ellipsis' }}>{name}</Box>
          <IconButton
            size="small"
            aria-label={`Take ${name} out of ${setting.group}`}
            onClick={() => {
              const rest = Object.entries(weights).filter(([other]) => other !== name);
              change(setting.path, Object.fromEntries(rest));
            }}
            sx={{ p: 0.5 }}
          >
            <Close sx={{ fontSize: 14 }} />
          </IconButton>
        </Box>
      ))}
    </Box>
  );
}

/** A weight in the form of a setting, so that it is typed as all numbers are. */
const weightSetting = (setting: Setting & WeightsMeta, name: string): NumberSetting => ({
  kind: 'number',
  path: `${setting.path}.${name}`,
  group: setting.group,
  label: `weight of ${name}`,
  help: 'Times what the pass holds',
  unit: 'times',
  min: 0,
  max: setting.most,
  step: 0.01,
  default: 1,
  scale: 'linear',
  shown: { factor: 1, unit: 'x', digits: 2 },
});
