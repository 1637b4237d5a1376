'use client';
import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import { applyPupil } from '../../../core/look/starting-point';
import { PUPILS } from '../../../core/stations/pupil/starting-points';
import { useShot } from '../../../state/shot-store';
import { ROW_COLUMNS, SELECT_SX } from '../../controls';

const OWN = 'own';

/** Pupils to begin from; the list tells which one the present pupil is. */
export function PupilChoice() {
  const known = useShot(({ look }) => {
    const now = JSON.stringify(look.pupil);
    return PUPILS.find((point) => JSON.stringify(applyPupil(look, point).pupil) === now)?.id ?? OWN;
  });
  return (
    <Box sx={ROW_COLUMNS}>
      <span>Start from</span>
      <Select
        value={known}
        onChange={({ target }) => {
          const point = PUPILS.find(({ id }) => id === target.value);
          const { look, setLook } = useShot.getState();
          if (point) setLook(applyPupil(look, point));
        }}
        variant="outlined"
        inputProps={{ 'aria-label': 'Start from a pupil' }}
        sx={{ ...SELECT_SX, gridColumn: '2 / 4', minWidth: 0 }}
      >
        {PUPILS.map(({ id, name, says }) => (
          <MenuItem key={id} value={id} dense title={says}>
            {name}
          </MenuItem>
        ))}
        <MenuItem value={OWN} dense disabled>
          of its own
        </MenuItem>
      </Select>
      <span />
    </Box>
  );
}
