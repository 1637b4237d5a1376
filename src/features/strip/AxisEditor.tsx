'use client';
import Close from '@mui/icons-material/Close';
import Autocomplete from '@mui/material/Autocomplete';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import InputBase from '@mui/material/InputBase';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import { useMemo, useState } from 'react';
import { settingAt } from '../../core/look/look';
import {
  axisLabel,
  FEWEST_TRIALS,
  firstAxis,
  MOST_TRIALS,
  spacingOf,
  spread,
  STRIP_SETS,
  triableIn,
  type Spacing,
  type StripAxis,
} from '../../core/look/strip';
import { shownText } from '../../core/settings/shown-text';
import { useShot } from '../../state/shot-store';
import { fieldFrame, readQuantity } from '../common';
import { NumberField, SELECT_SX, type NumberSetting } from '../controls';

interface AxisEditorProps {
  axis: StripAxis;
  /** What the side is called for those who cannot see it. */
  name: string;
  onChange: (axis: StripAxis) => void;
  onRemove?: () => void;
}

/** What varies along one side of the strip, and at which values. */
export function AxisEditor({ axis, name, onChange, onRemove }: AxisEditorProps) {
  const look = useShot((state) => state.look);
  const options = useMemo(() => triableIn(look), [look]);
  const setting = STRIP_SETS[axis.path] ? undefined : settingAt(axis.path);
  const chosen = options.find(({ path }) => path === axis.path) ?? {
    path: axis.path,
    label: axisLabel(axis),
  };
  return (
    <Box role="group" aria-label={name} sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
      <Autocomplete
        size="small"
        disableClearable
        sx={{ flex: '0 1 220px', minWidth: 120 }}
        options={options}
        value={chosen}
        isOptionEqualToValue={(a, b) => a.path === b.path}
        onChange={(_, option) => onChange(firstAxis(useShot.getState().look, option.path))}
        renderInput={({ slotProps }) => (
          <InputBase
            ref={slotProps.input.ref}
            inputProps={{ ...slotProps.htmlInput, 'aria-label': `${name}: setting` }}
            fullWidth
            sx={{ ...fieldFrame(false), input: { p: 0 } }}
          />
        )}
      />
      {setting?.kind === 'number' && (
        <NumberSide key={axis.path} axis={axis} name={name} setting={setting} onChange={onChange} />
      )}
      {onRemove && (
        <IconButton size="small" aria-label={`Leave out ${name.toLowerCase()}`} onClick={onRemove}>
          <Close sx={{ fontSize: 14 }} />
        </IconButton>
      )}
    </Box>
  );
}

interface NumberSideProps extends Omit<AxisEditorProps, 'onRemove'> {
  setting: NumberSetting;
}

function NumberSide({ axis, name, setting, onChange }: NumberSideProps) {
  const values = axis.values as readonly number[];
  const [spacing, setSpacing] = useState<Spacing>(spacingOf(setting));
  const [from, to] = [values[0]!, values.at(-1)!];
  const count = Math.min(MOST_TRIALS, Math.max(FEWEST_TRIALS, values.length));
  const lay = (first: number, last: number, many: number, how: Spacing): void =>
    onChange({ path: axis.path, values: spread(setting, first, last, many, how) });
  const end = (label: string): NumberSetting => ({ ...setting, group: name, label });
  return (
    <>
      <Box sx={{ width: 84 }}>
        <NumberField setting={end('from')} value={from} onChange={(next) => lay(next, to, count, spacing)} />
      </Box>
      <span>to</span>
      <Box sx={{ width: 84 }}>
        <NumberField setting={end('to')} value={to} onChange={(next) => lay(from, next, count, spacing)} />
      </Box>
      <Select
        value={count}
        onChange={(event) => lay(from, to, Number(event.target.value), spacing)}
        inputProps={{ 'aria-label': `${name}: how many` }}
        sx={{ ...SELECT_SX, width: 84 }}
      >
        {Array.from({ length: MOST_TRIALS - FEWEST_TRIALS + 1 }, (_, k) => (
          <MenuItem dense key={k} value={FEWEST_TRIALS + k}>
            {FEWEST_TRIALS + k} values
          </MenuItem>
        ))}
      </Select>
      <Select
        value={spacing}
        onChange={(event) => {
          const how = event.target.value as Spacing;
          setSpacing(how);
          lay(from, to, count, how);
        }}
        inputProps={{ 'aria-label': `${name}: spacing` }}
        sx={{ ...SELECT_SX, width: 104 }}
      >
        <MenuItem dense value="even">
          even
        </MenuItem>
        <MenuItem dense value="geometric">
          geometric
        </MenuItem>
      </Select>
      <TypedValues axis={axis} name={name} setting={setting} onChange={onChange} />
    </>
  );
}

/** The values as they are, to be typed. */
function TypedValues({ axis, name, setting, onChange }: NumberSideProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const { factor, unit } = setting.shown;
  const shown = (axis.values as readonly number[]).map((value) => shownText(setting, value)).join('; ');
  const read = (text: string): number[] | undefined => {
    const parts = text.split(/[;\s]+/).filter(Boolean);
    const numbers = parts.map((part) => readQuantity(part, unit));
    if (numbers.some((value) => value === undefined) || parts.length < 2 || parts.length > MOST_TRIALS)
      return undefined;
    const { min, max } = setting;
    const own = numbers.map((value) =>
      Math.min(max, Math.max(min, Number((value! / factor).toPrecision(12)))),
    );
    return [...new Set(own)].sort((a, b) => a - b);
  };
  const wrong = typed !== null && read(typed) === undefined;
  const take = (): void => {
    const values = typed === null ? undefined : read(typed);
    if (values) onChange({ path: axis.path, values });
    setTyped(null);
  };
  return (
    <InputBase
      value={typed ?? shown}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={take}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur();
        else if (event.key === 'Escape') setTyped(null);
        else return;
        event.stopPropagation();
      }}
      error={wrong}
      inputProps={{
        'aria-label': `${name}: values`,
        'aria-invalid': wrong,
        autoComplete: 'off',
        spellCheck: false,
        title: `2 to ${MOST_TRIALS} values, parted by semicolons`,
      }}
      sx={{
        ...fieldFrame(wrong),
        flex: '1 1 60px',
        minWidth: 0,
        input: { p: 0, fontFamily: 'var(--figures)', fontSize: 12 },
      }}
    />
  );
}
