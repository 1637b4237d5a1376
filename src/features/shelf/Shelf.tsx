'use client';
import Box from '@mui/material/Box';
import { useShot } from '../../state/shot-store';
import { useFileChooser, usePlates } from '../session';
import { PlateList } from './PlateList';
import { ReferenceList } from './ReferenceList';
import { ShelfButton, ShelfHeading } from './parts';
import { StorageLine } from './StorageLine';

/** The renders and references of the shot, and how much room they take. */
export function Shelf() {
  const opening = usePlates((state) => state.opening);
  const choose = useFileChooser();
  const hasReferences = useShot((state) => state.references.length > 0);
  return (
    <Box
      component="section"
      aria-label="Shelf"
      sx={{
        width: 167,
        flex: 'none',
        overflowY: 'auto',
        bgcolor: 'background.default',
        p: 1.25,
        display: 'flex',
        flexDirection: 'column',
      }}
    >
      <ShelfHeading>Plates</ShelfHeading>
      <PlateList />
      {opening && (
        <Box role="status" sx={{ fontSize: 11, color: 'text.secondary', py: 0.5, overflowWrap: 'anywhere' }}>
          opening {opening} …
        </Box>
      )}
      <ShelfButton onClick={() => choose()}>Bring in a render</ShelfButton>
      <Box data-drop="references" sx={{ pt: 2 }}>
        <ShelfHeading>References</ShelfHeading>
        {hasReferences ? (
          <ReferenceList />
        ) : (
          <Box sx={{ fontSize: 11, color: 'text.secondary', pb: 0.5 }}>
            Drop a photograph here to hold the picture against it.
          </Box>
        )}
        <ShelfButton onClick={() => choose({ kind: 'references' })}>Bring in a photo</ShelfButton>
      </Box>
      <Box sx={{ flex: 1 }} />
      <StorageLine />
    </Box>
  );
}
