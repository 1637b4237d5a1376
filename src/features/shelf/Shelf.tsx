'use client';
import Close from '@mui/icons-material/Close';
import Undo from '@mui/icons-material/Undo';
import Visibility from '@mui/icons-material/VisibilityOutlined';
import Box from '@mui/material/Box';
import { useShot } from '../../state/shot-store';
import {
  bringBackProof,
  lastRemovedProof,
  reportError,
  saveProof,
  stopWatching,
  useFileChooser,
  usePlates,
  useWatchedFolder,
  watchFolder,
} from '../session';
import { LookSection } from '../looks';
import { TourOffer } from '../tour';
import { PlateList } from './PlateList';
import { ProofList } from './ProofList';
import { ReferenceList } from './ReferenceList';
import { CornerButton, ShelfButton, ShelfHeading } from './parts';
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
      <WatchedFolder />
      <Box sx={{ pt: 2 }}>
        <ShelfHeading>Look</ShelfHeading>
        <LookSection />
      </Box>
      <Proofs />
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
      <TourOffer />
      <StorageLine />
    </Box>
  );
}

/** Saved looks, and what saves the present one. */
function Proofs() {
  // What was removed last is known anew whenever the list changes.
  const count = useShot((state) => state.proofs.length);
  const removed = lastRemovedProof();
  return (
    <Box sx={{ pt: 2 }}>
      <ShelfHeading>Proofs</ShelfHeading>
      {count === 0 && (
        <Box sx={{ fontSize: 11, color: 'text.secondary', pb: 0.5 }}>
          Save the look as it is, to compare with and return to.
        </Box>
      )}
      <ProofList />
      <ShelfButton onClick={() => void saveProof().catch(reportError)}>Save a proof</ShelfButton>
      {removed && (
        <ShelfButton icon={<Undo />} onClick={bringBackProof}>
          Bring back {removed.name}
        </ShelfButton>
      )}
    </Box>
  );
}

/** A folder out of which renders come by themselves. */
function WatchedFolder() {
  const name = useWatchedFolder((state) => state.name);
  if (name === null)
    return (
      <ShelfButton icon={<Visibility />} onClick={() => void watchFolder().catch(reportError)}>
        Watch a folder
      </ShelfButton>
    );
  return (
    <Box
      role="status"
      sx={{
        position: 'relative',
        pr: 3.5,
        pt: 1,
        pb: 0.5,
        fontSize: 11,
        color: 'text.secondary',
        overflowWrap: 'anywhere',
      }}
    >
      watching {name}: files that are written there come in
      <CornerButton label={`Stop watching ${name}`} onClick={stopWatching}>
        <Close sx={{ fontSize: 14 }} />
      </CornerButton>
    </Box>
  );
}
