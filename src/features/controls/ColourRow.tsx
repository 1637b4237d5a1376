'use client';
import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import Tooltip from '@mui/material/Tooltip';
import { useRef } from 'react';
import { viewedHex } from '../../core/color/hex';
import { getSetting } from '../../core/look/look';
import { COLOUR, NO_COLOUR, type ColourMeta, type Setting } from '../../core/settings/setting';
import { beginGesture, endGesture, useShot, type Gesture } from '../../state/shot-store';
import { TextField } from '../common';
import { SELECT_SX } from './ChoiceRow';
import { ResetMark, ROW_COLUMNS, RowLabel } from './row';

type ColourSetting = Setting & ColourMeta;

/** A colour: typed as #rrggbb or picked. A backdrop may also be none, or another plate of the shot. */
export function ColourRow({ setting }: { setting: ColourSetting }) {
  const value = useShot((state) => getSetting(state.look, setting.path) as string);
  const change = useShot((state) => state.change);
  const isColour = COLOUR.test(value);
  const picking = useRef<Gesture>(undefined);
  const endPicking = (): void => {
    if (picking.current) endGesture(picking.current);
    picking.current = undefined;
  };
  return (
    <Box sx={ROW_COLUMNS} data-setting={setting.path}>
      <RowLabel setting={setting} />
      {isColour && (
        <TextField
          label={`${setting.group} ${setting.label}`}
          value={value}
          problem={(text) => (COLOUR.test(text.trim()) ? undefined : 'a colour as #rrggbb')}
          onTake={(text) => change(setting.path, text.trim().toLowerCase())}
        />
      )}
      <Box sx={{ display: 'flex', gap: 0.5, gridColumn: isColour ? undefined : '2 / 4' }}>
        {isColour && (
          <Box
            component="input"
            type="color"
            value={value}
            aria-label={`${setting.group} ${setting.label} picker`}
            ref={(input: HTMLInputElement | null) => {
              // React hears of every colour on the way; that the last one was chosen only the browser tells.
              input?.addEventListener('change', endPicking);
              return () => input?.removeEventListener('change', endPicking);
            }}
            onBlur={endPicking}
            onChange={(event: React.ChangeEvent<HTMLInputElement>) => {
              picking.current ??= beginGesture();
              change(setting.path, event.target.value);
            }}
            sx={{
              width: 30,
              height: 22,
              p: 0,
              border: '1px solid',
              borderColor: 'divider',
              bgcolor: 'canvas.main',
            }}
          />
        )}
        {isColour && <Viewed hex={value} />}
        {setting.backdrop && <BackdropChoice setting={setting} value={value} />}
      </Box>
      <ResetMark setting={setting} changed={value !== setting.default} />
    </Box>
  );
}

/** The colour as the film's view shows light of it. A look-up table is not known here: plain sRGB stands in. */
function Viewed({ hex }: { hex: string }) {
  const { on, view } = useShot((state) => state.look.film);
  return (
    <Tooltip title="As the view shows light of this colour">
      <Box
        data-testid="viewed-colour"
        sx={{ width: 14, height: 22, border: '1px solid', borderColor: 'divider' }}
        style={{ backgroundColor: viewedHex(hex, on && view !== 'lut' ? view : 'srgb') }}
      />
    </Tooltip>
  );
}

function BackdropChoice({ setting, value }: { setting: ColourSetting; value: string }) {
  const change = useShot((state) => state.change);
  const plates = useShot((state) => state.plates);
  const activePlate = useShot((state) => state.activePlate);
  const others = plates.filter(({ id }) => id !== activePlate);
  const kind = COLOUR.test(value) ? 'colour' : value;
  const known = kind === 'colour' || kind === NO_COLOUR || others.some(({ id }) => `plate:${id}` === kind);
  return (
    <Select
      value={kind}
      onChange={(event) =>
        change(setting.path, event.target.value === 'colour' ? '#808080' : event.target.value)
      }
      variant="outlined"
      inputProps={{ 'aria-label': `${setting.group} ${setting.label} kind` }}
      sx={{ ...SELECT_SX, flex: 1, minWidth: 0 }}
    >
      <MenuItem dense value={NO_COLOUR}>
        none
      </MenuItem>
      <MenuItem dense value="colour">
        a colour
      </MenuItem>
      {others.map(({ id, name }) => (
        <MenuItem dense key={id} value={`plate:${id}`}>
          {name}
        </MenuItem>
      ))}
      {!known && (
        <MenuItem dense value={kind}>
          (missing)
        </MenuItem>
      )}
    </Select>
  );
}
