'use client';
import Box from '@mui/material/Box';
import { getSetting } from '../../core/look/look';
import type { Setting, SwitchMeta } from '../../core/settings/setting';
import { useShot } from '../../state/shot-store';
import { Pill } from '../common';
import { ResetMark, ROW_COLUMNS, RowLabel } from './row';

/** A switch within a panel; the station's own stands on the bench. */
export function SwitchRow({ setting }: { setting: Setting & SwitchMeta }) {
  const value = useShot((state) => getSetting(state.look, setting.path) as boolean);
  const change = useShot((state) => state.change);
  return (
    <Box sx={ROW_COLUMNS} data-setting={setting.path}>
      <RowLabel setting={setting} />
      <Box sx={{ gridColumn: '2 / 4' }}>
        <Pill
          role="switch"
          on={value}
          label={value ? 'on' : 'off'}
          name={`${setting.group} ${setting.label}`}
          onClick={() => change(setting.path, !value)}
        />
      </Box>
      <ResetMark setting={setting} changed={value !== setting.default} />
    </Box>
  );
}
