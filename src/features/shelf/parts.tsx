'use client';
import Add from '@mui/icons-material/Add';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import InputBase from '@mui/material/InputBase';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { BitmapPicture } from '../common';

export function ShelfHeading({ children }: { children: React.ReactNode }) {
  return (
    <Typography component="h2" sx={{ fontSize: 12, color: 'text.secondary', pb: 0.75 }}>
      {children}
    </Typography>
  );
}

export function ShelfButton({ children, onClick }: { children: React.ReactNode; onClick: () => void }) {
  return (
    <Button
      size="small"
      color="inherit"
      startIcon={<Add />}
      onClick={onClick}
      sx={{ mt: 0.5, color: 'text.secondary', justifyContent: 'flex-start' }}
      fullWidth
    >
      {children}
    </Button>
  );
}

interface TileProps {
  kind: 'Plate' | 'Reference';
  name: string;
  active: boolean;
  bitmap: ImageBitmap | undefined;
  onPick: () => void;
}

/** A picture on the shelf. */
export function Tile({ kind, name, active, bitmap, onPick }: TileProps) {
  return (
    <ButtonBase
      aria-pressed={active}
      aria-label={`${kind} ${name}`}
      onClick={onPick}
      sx={{
        display: 'block',
        width: '100%',
        minHeight: 40,
        border: '1px solid',
        borderColor: active ? 'primary.main' : 'divider',
        borderRadius: 0.5,
        overflow: 'hidden',
      }}
    >
      {bitmap && <BitmapPicture bitmap={bitmap} label={`Thumbnail of ${name}`} />}
    </ButtonBase>
  );
}

/** A name that a double click, or Enter on it, opens for typing. */
export function EditableName({ name, onRename }: { name: string; onRename: (name: string) => void }) {
  const [typed, setTyped] = useState<string | null>(null);
  if (typed !== null)
    return (
      <InputBase
        value={typed}
        autoFocus
        fullWidth
        onChange={(event) => setTyped(event.target.value)}
        onFocus={(event) => event.target.select()}
        onBlur={() => {
          if (typed.trim()) onRename(typed.trim().slice(0, 255));
          setTyped(null);
        }}
        onKeyDown={(event) => {
          if (event.key === 'Enter') event.currentTarget.blur();
          else if (event.key === 'Escape') setTyped(null);
          else return;
          event.preventDefault();
          event.stopPropagation();
        }}
        inputProps={{ 'aria-label': `New name of ${name}` }}
        sx={{ fontSize: 11, height: 20, input: { p: 0 } }}
      />
    );
  return (
    <Box
      onDoubleClick={() => setTyped(name)}
      title={`${name} (double click to rename)`}
      sx={{ fontSize: 11, pt: 0.5, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
    >
      {name}
    </Box>
  );
}

/** Bytes in words. */
export function sizeText(bytes: number): string {
  if (bytes >= 2 ** 30) return `${(bytes / 2 ** 30).toFixed(1)} GB`;
  const mega = bytes / 2 ** 20;
  return `${mega.toFixed(mega >= 10 ? 0 : 1)} MB`;
}
