import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import { SELECT_SX } from '../../controls';

interface NameChoiceProps {
  label: string;
  names: readonly string[];
  value: string;
  onChange: (name: string) => void;
}

/** A choice of something of the plate by its name; one that the plate does not have stays, and is said to be missing. */
export function NameChoice({ label, names, value, onChange }: NameChoiceProps) {
  const options = names.includes(value) ? names : [...names, value];
  return (
    <Select
      value={value}
      onChange={(event) => onChange(event.target.value)}
      variant="outlined"
      inputProps={{ 'aria-label': label }}
      sx={{ ...SELECT_SX, flex: 1, minWidth: 0 }}
    >
      {options.map((name) => (
        <MenuItem key={name} value={name} dense>
          {names.includes(name) ? name : `${name} (missing)`}
        </MenuItem>
      ))}
    </Select>
  );
}
