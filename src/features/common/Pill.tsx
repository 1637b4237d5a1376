'use client';
import ButtonBase, { type ButtonBaseProps } from '@mui/material/ButtonBase';

/** A small button that is on or off. `role="switch"` makes it a switch to those who cannot see it. */
export function Pill({ on, label, name, role, onClick }: PillProps) {
  return (
    <ButtonBase
      {...(role === 'switch' ? { role, 'aria-checked': on } : { 'aria-pressed': on })}
      aria-label={name}
      onClick={onClick}
      sx={{
        fontSize: 11,
        px: 0.5,
        minWidth: 26,
        height: 24,
        borderRadius: 0.5,
        border: '1px solid',
        borderColor: on ? 'primary.main' : 'divider',
        color: on ? 'primary.main' : 'text.secondary',
      }}
    >
      {label}
    </ButtonBase>
  );
}

interface PillProps {
  on: boolean;
  label: string;
  /** The whole name, for readers. */
  name: string;
  role?: 'switch';
  onClick: NonNullable<ButtonBaseProps['onClick']>;
}
