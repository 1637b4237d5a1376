'use client';
import RestartAlt from '@mui/icons-material/RestartAlt';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import type { RealLensBand, Setting } from '../../core/settings/setting';
import { useShot } from '../../state/shot-store';
import { KeyMark } from './KeyMark';

/** Every row of a panel is laid out in the same columns: name, value, slider, reset mark. */
export const ROW_COLUMNS = {
  display: 'grid',
  gridTemplateColumns: '84px 88px 1fr 20px',
  columnGap: 1,
  alignItems: 'center',
  minHeight: 28,
} as const;

export function RowLabel({ setting, band }: { setting: Setting; band?: RealLensBand | undefined }) {
  const shown = setting.kind === 'number' ? setting.shown : undefined;
  const real =
    band && shown
      ? ` Real lenses: ${band.min * shown.factor} to ${band.max * shown.factor} ${shown.unit} (${band.source}).`
      : '';
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', minWidth: 0 }}>
      <KeyMark setting={setting} />
      <Tooltip title={`${setting.help}.${real}`} placement="left">
        <Box component="span" sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
          {setting.label}
        </Box>
      </Tooltip>
    </Box>
  );
}

/** Brings a setting back to its default; shown only when it is not there. */
export function ResetMark({ setting, changed }: { setting: Setting; changed: boolean }) {
  const change = useShot((state) => state.change);
  if (!changed) return <span />;
  return (
    <Tooltip title="Back to the default">
      <IconButton
        size="small"
        aria-label={`Reset ${setting.group} ${setting.label}`}
        onClick={() => change(setting.path, setting.default)}
        sx={{ p: 0, color: 'text.secondary' }}
      >
        <RestartAlt sx={{ fontSize: 15 }} />
      </IconButton>
    </Tooltip>
  );
}
