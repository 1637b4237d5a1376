'use client';
import Box from '@mui/material/Box';
import InputBase from '@mui/material/InputBase';
import Slider from '@mui/material/Slider';
import { useState } from 'react';
import { getSetting } from '../../core/look/look';
import { isBetweenKeys } from '../../core/look/track-edits';
import type { NumberMeta, Setting } from '../../core/settings/setting';
import { useShot } from '../../state/shot-store';
import { fieldFrame, readQuantity } from '../common';
import { ResetMark, RowLabel, ROW_COLUMNS } from './row';
import { SLIDER_DRAG, sliderSx } from './slider-drag';
import { useScrub } from './use-scrub';
import { shownText } from '../../core/settings/shown-text';
import { fromPosition, nudged, SLIDER_STEPS, toPosition } from './slider-scale';

export type NumberSetting = Setting & NumberMeta;

/** A number: its name, a field that takes arithmetic, a slider with the real-lens band on its track, a reset mark. */
export function NumberRow({ setting }: { setting: NumberSetting }) {
  const value = useShot((state) => getSetting(state.look, setting.path) as number);
  const change = useShot((state) => state.change);
  const isMoving = useShot(({ tracks, reel }) => isBetweenKeys(tracks, setting.path, reel.playhead));
  const { band } = setting;
  const beyond = band !== undefined && value !== setting.default && (value < band.min || value > band.max);
  return (
    <Box sx={ROW_COLUMNS} data-setting={setting.path}>
      <RowLabel setting={setting} band={band} />
      <NumberField
        setting={setting}
        value={value}
        beyond={beyond}
        isMoving={isMoving}
        onChange={(next) => change(setting.path, next)}
      />
      <BandedSlider setting={setting} value={value} onChange={(next) => change(setting.path, next)} />
      <ResetMark setting={setting} changed={value !== setting.default} />
    </Box>
  );
}

interface FieldProps {
  setting: NumberSetting;
  value: number;
  onChange: (value: number) => void;
}

export function NumberField({
  setting,
  value,
  beyond,
  isMoving,
  onChange,
}: FieldProps & { beyond?: boolean; isMoving?: boolean }) {
  const [typed, setTyped] = useState<string | null>(null);
  const { factor, unit } = setting.shown;
  const parsed = typed === null ? value * factor : readQuantity(typed, unit);
  const wrong = parsed === undefined;
  /** What is typed as a value of the setting, within its range; what cannot be read is the value before it. */
  const read = (): number => {
    if (typed === null || parsed === undefined) return value;
    const next = Number((parsed / factor).toPrecision(12));
    return Math.min(setting.max, Math.max(setting.min, next));
  };
  const take = (): void => {
    if (typed !== null && parsed !== undefined) onChange(read());
    setTyped(null);
  };
  const nudge = (direction: 1 | -1, coarse: boolean): void => {
    setTyped(null);
    onChange(nudged(setting, read(), direction, coarse));
  };
  const scrub = useScrub(setting, value, onChange);
  return (
    <InputBase
      value={typed ?? shownText(setting, value, isMoving)}
      onChange={(event) => setTyped(event.target.value)}
      onFocus={(event) => event.target.select()}
      onBlur={take}
      onKeyDown={(event) => {
        // Enter gives the keys back to the application; Tab goes on from here.
        if (event.key === 'Enter') event.currentTarget.blur();
        else if (event.key === 'Escape') setTyped(null);
        else if (event.key === 'ArrowUp') nudge(1, event.shiftKey);
        else if (event.key === 'ArrowDown') nudge(-1, event.shiftKey);
        else return;
        event.preventDefault();
        event.stopPropagation();
      }}
      endAdornment={
        <Box component="span" sx={{ color: 'text.secondary', fontSize: 11, pl: 0.5, whiteSpace: 'nowrap' }}>
          {unit}
        </Box>
      }
      error={wrong}
      inputProps={{
        'aria-label': `${setting.group} ${setting.label}`,
        'aria-invalid': wrong,
        inputMode: 'decimal',
        autoComplete: 'off',
        spellCheck: false,
      }}
      {...scrub}
      sx={{
        ...fieldFrame(wrong),
        touchAction: 'none',
        'input:not(:focus)': { cursor: 'ew-resize' },
        color: beyond ? 'error.main' : 'text.primary',
        '&:focus-within': { borderColor: 'primary.main' },
        input: { p: 0, fontFamily: 'var(--figures)', fontSize: 12 },
      }}
    />
  );
}

function BandedSlider({ setting, value, onChange }: FieldProps) {
  const { band } = setting;
  const percent = (of: number): number => (toPosition(setting, of) / SLIDER_STEPS) * 100;
  const track = band
    ? `linear-gradient(to right, transparent ${percent(band.min)}%, var(--band) ${percent(band.min)}% ${percent(band.max)}%, transparent ${percent(band.max)}%)`
    : 'none';
  return (
    <Slider
      size="small"
      min={0}
      max={SLIDER_STEPS}
      value={toPosition(setting, value)}
      aria-label={`${setting.group} ${setting.label}`}
      getAriaValueText={() => `${shownText(setting, value)} ${setting.shown.unit}`}
      {...SLIDER_DRAG}
      onChange={(_, position) => onChange(fromPosition(setting, position))}
      sx={sliderSx(track)}
    />
  );
}
