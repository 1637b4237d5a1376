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
          flex: 'none',
          bgcolor: 'background.default',
          color: 'text.secondary',
          borderLeft: isLeft ? 0 : '1px solid',
          borderRight: isLeft ? '1px solid' : 0,
          borderColor: 'divider',
          '&:hover': { color: 'text.primary', bgcolor: 'background.paper' },
        }}
      >
        <Arrow sx={{ fontSize: 12 }} />
      </ButtonBase>
    </Tooltip>
  );
  return (
    <Box sx={{ display: 'flex', flex: 'none', minHeight: 0 }}>
      {!isLeft && edge}
      {!folded && <PanelBoundary name={label}>{children}</PanelBoundary>}
      {isLeft && edge}
    </Box>
  );
}
