'use client';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import { useEffect, useState } from 'react';
import { BitmapPicture } from '../common';
import type { Choice } from './choices';

interface LookTileProps {
  choice: Choice;
  /** The present plate under it, once it is made. */
  bitmap: ImageBitmap | undefined;
  active: boolean;
  onPick: () => void;
}

/** A look as a picture: of the present plate, or as it was saved where there is none. */
export function LookTile({ choice: { name, note, kept }, bitmap, active, onPick }: LookTileProps) {
  const saved = useSaved(kept?.thumbnail ?? null);
  const shown = bitmap ?? saved;
  return (
    <ButtonBase
      aria-pressed={active}
      aria-label={`Look ${name}`}
      title={note}
      onClick={onPick}
      sx={{
        display: 'block',
        textAlign: 'left',
        border: '1px solid',
        borderColor: active ? 'primary.main' : 'divider',
        borderRadius: 0.5,
        overflow: 'hidden',
        '&:hover': { borderColor: active ? 'primary.main' : 'text.secondary' },
      }}
    >
      <Box sx={{ aspectRatio: '16 / 9', bgcolor: 'background.default' }}>
        {shown && <BitmapPicture bitmap={shown} label="" fill />}
      </Box>
      <Box sx={{ fontSize: 11, lineHeight: '14px', px: 0.5, py: 0.25, overflowWrap: 'anywhere' }}>{name}</Box>
    </ButtonBase>
  );
}

/** The picture that a look was saved with. */
function useSaved(thumbnail: Blob | null): ImageBitmap | undefined {
  const [bitmap, setBitmap] = useState<ImageBitmap>();
  useEffect(() => {
    if (!thumbnail) return;
    let alive = true;
    createImageBitmap(thumbnail).then(
      (made) => alive && setBitmap(made),
      () => undefined,
    );
    return () => {
      alive = false;
    };
  }, [thumbnail]);
  return thumbnail ? bitmap : undefined;
}
