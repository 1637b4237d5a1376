'use client';
import Add from '@mui/icons-material/Add';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import IconButton from '@mui/material/IconButton';
import Typography from '@mui/material/Typography';
import { BitmapPicture, TextField } from '../common';

export function ShelfHeading({ children }: { children: React.ReactNode }) {
  return (
    <Typography component="h2" sx={{ fontSize: 12, color: 'text.secondary', pb: 0.75 }}>
      {children}
    </Typography>
  );
}

interface ShelfButtonProps {
  icon?: React.ReactNode;
  children: React.ReactNode;
  onClick: () => void;
}

export function ShelfButton({ icon = <Add />, children, onClick }: ShelfButtonProps) {
  return (
    <Button
      size="small"
      color="inherit"
      startIcon={icon}
      onClick={onClick}
      sx={{ mt: 0.5, color: 'text.secondary', justifyContent: 'flex-start' }}
      fullWidth
    >
      {children}
    </Button>
  );
}

interface TileProps {
  kind: 'Plate' | 'Reference' | 'Proof';
  name: string;
  active: boolean;
  bitmap: ImageBitmap | undefined;
  onPick: () => void;
  onRename: () => void;
  /** Why there is no picture of it, if it could not be opened. */
  failure?: string | undefined;
}

/** A picture on the shelf. */
export function Tile({ kind, name, active, bitmap, onPick, onRename, failure }: TileProps) {
  return (
    <ButtonBase
      aria-pressed={active}
      aria-label={`${kind} ${name}`}
      onClick={onPick}
      onKeyDown={(event) => {
        if (event.key !== 'F2') return;
        event.preventDefault();
        onRename();
      }}
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
      {failure !== undefined && (
        <Box sx={{ p: 0.75, fontSize: 11, color: 'error.main', textAlign: 'left', overflowWrap: 'anywhere' }}>
          {failure}
        </Box>
      )}
      {bitmap && <BitmapPicture bitmap={bitmap} label={`Thumbnail of ${name}`} />}
    </ButtonBase>
  );
}

/** A button in the upper right corner of a tile. */
export function CornerButton({ label, menu = false, onClick, children }: CornerButtonProps) {
  return (
    <IconButton
      size="small"
      aria-label={label}
      {...(menu && { 'aria-haspopup': 'menu' })}
      onClick={onClick}
      sx={{
        position: 'absolute',
        top: 2,
        right: 2,
        p: 0.625,
        bgcolor: 'background.paper',
        '&:hover': { bgcolor: 'background.paper' },
      }}
    >
      {children}
    </IconButton>
  );
}

interface CornerButtonProps {
  label: string;
  /** Whether it opens a menu. */
  menu?: boolean;
  onClick: (event: React.MouseEvent<HTMLElement>) => void;
  children: React.ReactNode;
}

/** A name that a double click, or F2 on its tile, opens for typing. */
export function EditableName({ name, onRename, open, setOpen }: EditableNameProps) {
  if (open)
    return (
      <TextField
        label={`New name of ${name}`}
        value={name}
        autoFocus
        problem={(text) =>
          text.trim() !== '' && text.length <= 255 ? undefined : 'a name of 1 to 255 letters'
        }
        onTake={(text) => onRename(text.trim())}
        onLeave={() => setOpen(false)}
      />
    );
  return (
    <Box
      onDoubleClick={() => setOpen(true)}
      title={`${name} (double click or F2 to rename)`}
      sx={{ fontSize: 11, pt: 0.5, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
    >
      {name}
    </Box>
  );
}

interface EditableNameProps {
  name: string;
  onRename: (name: string) => void;
  open: boolean;
  setOpen: (open: boolean) => void;
}

/** Bytes in words. */
export function sizeText(bytes: number): string {
  if (bytes >= 2 ** 30) return `${(bytes / 2 ** 30).toFixed(1)} GB`;
  const mega = bytes / 2 ** 20;
  return `${mega.toFixed(mega >= 10 ? 0 : 1)} MB`;
}
