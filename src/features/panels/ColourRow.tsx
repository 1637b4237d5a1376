'use client';
import Box from '@mui/material/Box';
import InputBase from '@mui/material/InputBase';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import { useState } from 'react';
import { getSetting } from '../../core/look/look';
import { COLOUR, NO_COLOUR, type ColourMeta, type Setting } from '../../core/look/setting';
import { beginGesture, endGesture, useShot } from '../../state/shot-store';
import { SELECT_SX } from './ChoiceRow';
import { ResetMark, ROW_COLUMNS, RowLabel } from './row';

type ColourSetting = Setting & ColourMeta;

/** A colour: typed as #rrggbb or picked. A backdrop may also be none, or another plate of the shot. */
export function ColourRow({ setting }: { setting: ColourSetting }) {
  const value = useShot((state) => getSetting(state.look, setting.path) as string);
  const change = useShot((state) => state.change);
  const isColour = COLOUR.test(value);
  return (
    <Box sx={ROW_COLUMNS} data-setting={setting.path}>
      <RowLabel setting={setting} />
      {isColour && (
        <HexField setting={setting} value={value} onChange={(next) => change(setting.path, next)} />
      )}
      <Box sx={{ display: 'flex', gap: 0.5, gridColumn: isColour ? undefined : '2 / 4' }}>
        {isColour && (
          <Box
            component="input"
            type="color"
            value={value}
            aria-label={`${setting.group} ${setting.label} picker`}
            onFocus={beginGesture}
            onBlur={endGesture}
            onChange={(event: React.ChangeEvent<HTMLInputElement>) =>
              change(setting.path, event.target.value)
            }
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
        {setting.backdrop && <BackdropChoice setting={setting} value={value} />}
      </Box>
      <ResetMark setting={setting} changed={value !== setting.default} />
    </Box>
  );
}

function HexField({
  setting,
  value,
  onChange,
}: {
  setting: ColourSetting;
  value: string;
  onChange: (value: string) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const wrong = typed !== null && !COLOUR.test(typed.trim());
  const take = (): void => {
    if (typed !== null && !wrong) onChange(typed.trim().toLowerCase());
    setTyped(null);
  };
  return (
    <InputBase
      value={typed ?? value}
      onChange={(event) => setTyped(event.target.value)}
      onFocus={(event) => event.target.select()}
      onBlur={take}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur();
        else if (event.key === 'Escape') setTyped(null);
        else return;
        event.preventDefault();
        event.stopPropagation();
      }}
      error={wrong}
      inputProps={{
        'aria-label': `${setting.group} ${setting.label}`,
        'aria-invalid': wrong,
        spellCheck: false,
      }}
      sx={{
        height: 22,
        px: 0.75,
        border: '1px solid',
        borderColor: wrong ? 'error.main' : 'divider',
        borderRadius: 0.5,
        bgcolor: 'canvas.main',
        input: { p: 0, fontFamily: 'var(--figures)', fontSize: 12 },
      }}
    />
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
