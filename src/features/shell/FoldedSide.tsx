'use client';
import ChevronLeft from '@mui/icons-material/ChevronLeft';
import ChevronRight from '@mui/icons-material/ChevronRight';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import Tooltip from '@mui/material/Tooltip';
import { useDesk, type Side } from '../../state/desk-store';
import { PanelBoundary } from '../common';

/** What stands beside the picture, with a narrow edge that folds it away and back. */
export function FoldedSide({
  side,
  label,
  children,
}: {
  side: Side;
  label: string;
  children: React.ReactNode;
}) {
  const folded = useDesk((state) => state.folded[side]);
  const foldSides = useDesk((state) => state.foldSides);
  const isLeft = side === 'shelf';
  const Arrow = isLeft === folded ? ChevronRight : ChevronLeft;
  const edge = (
    <Tooltip
      title={`${folded ? 'Unfold' : 'Fold'} ${label.toLowerCase()} (H: both)`}
      placement={isLeft ? 'right' : 'left'}
    >
      <ButtonBase
        aria-label={`${folded ? 'Unfold' : 'Fold'} ${label.toLowerCase()}`}
        aria-expanded={!folded}
        onClick={() => foldSides(side)}
        sx={{
          width: 12,
          bgcolor: 'background.default',
          color: 'text.secondary',
          '&:hover, &:focus-visible': { color: 'text.primary', bgcolor: 'background.paper' },
          ...(folded
            ? {
                alignSelf: 'stretch',
                border: 0,
                [isLeft ? 'borderRight' : 'borderLeft']: '1px solid',
                borderColor: 'divider',
              }
            : {
                // Over the margin of what it folds, so that it takes no room from the picture.
                position: 'absolute',
                width: 9,
                bgcolor: 'transparent',
                top: 'calc(50% - 32px)',
                height: 64,
                zIndex: 2,
                [isLeft ? 'right' : 'left']: 0,
              }),
        }}
      >
        <Arrow sx={{ fontSize: 12 }} />
      </ButtonBase>
    </Tooltip>
  );
  return (
    <Box
      sx={{
        display: 'flex',
        flex: 'none',
        minHeight: 0,
        position: 'relative',
        [isLeft ? 'borderRight' : 'borderLeft']: folded ? 0 : '1px solid',
        borderColor: 'divider',
      }}
    >
      {!folded && <PanelBoundary name={label}>{children}</PanelBoundary>}
      {edge}
    </Box>
  );
}
