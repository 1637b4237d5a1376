'use client';
import Box from '@mui/material/Box';
import { expectation, getSetting } from '../../core/look/look';
import { MOST_LETTERS, type Setting } from '../../core/settings/setting';
import { useShot } from '../../state/shot-store';
import { TextField } from '../common';
import { ResetMark, ROW_COLUMNS, RowLabel } from './row';

/** A line of text. */
export function TextRow({ setting }: { setting: Setting }) {
  const value = useShot((state) => getSetting(state.look, setting.path) as string);
  const change = useShot((state) => state.change);
  return (
    <Box sx={ROW_COLUMNS} data-setting={setting.path}>
      <RowLabel setting={setting} />
      <Box sx={{ gridColumn: '2 / 4' }}>
        <TextField
          label={`${setting.group} ${setting.label}`}
          value={value}
          problem={(text) => (text.trim().length > MOST_LETTERS ? expectation(setting) : undefined)}
          onTake={(text) => change(setting.path, text.trim())}
        />
      </Box>
      <ResetMark setting={setting} changed={value !== setting.default} />
    </Box>
  );
}
