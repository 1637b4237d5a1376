'use client';
import Add from '@mui/icons-material/Add';
import Close from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import Typography from '@mui/material/Typography';
import type { PlateEntry } from '../../core/shot/shot';
import { useShot } from '../../state/shot-store';
import { removePlate, useFileChooser, usePlates } from '../session';
import { BitmapPicture } from './BitmapPicture';

/** The renders of the shot. */
export function Shelf() {
  const plates = useShot((state) => state.plates);
  const opening = usePlates((state) => state.opening);
  const choose = useFileChooser();
  return (
    <Box
      component="section"
      aria-label="Shelf"
      sx={{
        width: 168,
        flex: 'none',
        overflowY: 'auto',
        bgcolor: 'background.default',
        borderRight: '1px solid',
        borderColor: 'divider',
        p: 1.25,
      }}
    >
      <Typography component="h2" sx={{ fontSize: 12, color: 'text.secondary', pb: 0.75 }}>
        Plates
      </Typography>
      {plates.map((plate) => (
        <PlateTile key={plate.id} plate={plate} />
      ))}
      {opening && (
        <Box role="status" sx={{ fontSize: 11, color: 'text.secondary', py: 0.5, overflowWrap: 'anywhere' }}>
          opening {opening} …
        </Box>
      )}
      <Button
        size="small"
        color="inherit"
        startIcon={<Add />}
        onClick={choose}
        sx={{ mt: 0.5, color: 'text.secondary', justifyContent: 'flex-start' }}
        fullWidth
      >
        Bring in a render
      </Button>
    </Box>
  );
}

function PlateTile({ plate }: { plate: PlateEntry }) {
  const active = useShot((state) => state.activePlate === plate.id);
  const choosePlate = useShot((state) => state.choosePlate);
  const card = usePlates((state) => state.cards[plate.id]);
  return (
    <Box
      sx={{
        position: 'relative',
        mb: 1,
        '& .remove': { opacity: 0 },
        '&:hover .remove, & .remove:focus-visible': { opacity: 1 },
      }}
    >
      <ButtonBase
        aria-pressed={active}
        aria-label={`Plate ${plate.name}`}
        onClick={() => choosePlate(plate.id)}
        sx={{
          display: 'block',
          width: '100%',
          border: '1px solid',
          borderColor: active ? 'primary.main' : 'divider',
          borderRadius: 0.5,
          overflow: 'hidden',
        }}
      >
        {card && <BitmapPicture bitmap={card.thumbnail} label={`Thumbnail of ${plate.name}`} />}
      </ButtonBase>
      <Box
        sx={{ fontSize: 11, pt: 0.5, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
        title={plate.name}
      >
        {plate.name}
      </Box>
      {card && (
        <Box sx={{ fontFamily: 'var(--figures)', fontSize: 11, color: 'text.secondary' }}>
          {card.width} x {card.height} · {card.passes.length} {card.passes.length === 1 ? 'pass' : 'passes'}
        </Box>
      )}
      <Tooltip title="Remove from the shot">
        <IconButton
          className="remove"
          size="small"
          aria-label={`Remove ${plate.name}`}
          onClick={() => removePlate(plate.id)}
          sx={{
            position: 'absolute',
            top: 2,
            right: 2,
            p: 0.25,
            bgcolor: 'background.paper',
            '&:hover': { bgcolor: 'background.paper' },
          }}
        >
          <Close sx={{ fontSize: 14 }} />
        </IconButton>
      </Tooltip>
    </Box>
  );
}
