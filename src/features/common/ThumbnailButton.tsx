'use client';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import { BitmapPicture } from './BitmapPicture';

interface ThumbnailButtonProps {
  bitmap: ImageBitmap | undefined;
  /** What a click does, for those who do not see it. */
  label: string;
  pressed: boolean;
  onClick: () => void;
  /** Pixels that the thumbnail is across. */
  width?: number;
  children: React.ReactNode;
}

/** A small picture with its name, chosen by a click. */
export function ThumbnailButton({
  bitmap,
  label,
  pressed,
  onClick,
  width = 36,
  children,
}: ThumbnailButtonProps) {
  return (
    <ButtonBase
      aria-pressed={pressed}
      aria-label={label}
      onClick={onClick}
      sx={{
        flex: 1,
        minWidth: 0,
        gap: 0.75,
        justifyContent: 'flex-start',
        textAlign: 'left',
        color: pressed ? 'primary.main' : undefined,
      }}
    >
      <Box
        sx={{
          width,
          height: Math.round((width * 9) / 16) + 1,
          flex: 'none',
          overflow: 'hidden',
          bgcolor: 'canvas.main',
          border: '1px solid',
          borderColor: pressed ? 'primary.main' : 'divider',
        }}
      >
        {bitmap && <BitmapPicture bitmap={bitmap} label="" />}
      </Box>
      <Box sx={{ minWidth: 0, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
        {children}
      </Box>
    </ButtonBase>
  );
}
