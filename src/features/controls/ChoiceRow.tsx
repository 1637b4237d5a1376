'use client';
import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import { getSetting } from '../../core/look/look';
import { NO_MASK, type Setting } from '../../core/settings/setting';
import { useShot } from '../../state/shot-store';
import { useMattes } from '../session';
import { ResetMark, ROW_COLUMNS, RowLabel } from './row';
import { usePassOptions } from './use-pass-options';

export type ChoiceSetting = Setting & { kind: 'choice' | 'pass' | 'mask' };

export const SELECT_SX = {
  height: 22,
  fontSize: 12,
  bgcolor: 'canvas.main',
  '.MuiSelect-select': { py: 0, px: 0.75 },
  fieldset: { borderColor: 'divider' },
} as const;

/** One of several values: a setting's own, the plate's passes that hold light, or the look's masks and the plate's mattes. */
export function ChoiceRow({ setting }: { setting: ChoiceSetting }) {
  const value = useShot((state) => getSetting(state.look, setting.path) as string);
  const change = useShot((state) => state.change);
  const passes = usePassOptions(setting.kind === 'pass' ? setting : undefined);
  const masks = useShot((state) => state.look.masks);
  const mattes = useMattes();
  const known =
    setting.kind === 'choice'
      ? setting.options
      : setting.kind === 'pass'
        ? passes
        : [
            { value: NO_MASK, label: setting.none },
            ...masks.map(({ id, name }) => ({ value: id, label: name })),
            ...mattes.map((channel) => ({ value: channel, label: channel })),
          ];
  // A pass that this plate lacks stays in the list, so that nothing changes behind the artist's back.
  const options = known.some((option) => option.value === value)
    ? known
    : [...known, { value, label: `${value} (missing)` }];
  return (
    <Box sx={ROW_COLUMNS} data-setting={setting.path}>
      <RowLabel setting={setting} />
      <Select
        value={value}
        displayEmpty
        onChange={(event) => change(setting.path, event.target.value)}
        variant="outlined"
        inputProps={{ 'aria-label': `${setting.group} ${setting.label}` }}
        sx={{ ...SELECT_SX, gridColumn: '2 / 4' }}
      >
        {options.map((option) => (
          <MenuItem key={option.value} value={option.value} dense>
            {option.label}
          </MenuItem>
        ))}
      </Select>
      <ResetMark setting={setting} changed={value !== setting.default} />
    </Box>
  );
}
