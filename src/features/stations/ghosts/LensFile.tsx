'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { lensDocument } from '../../../core/optics/lens/design';
import { listedDesign } from '../../../core/stations/ghosts/lens';
import { useShot } from '../../../state/shot-store';
import { FileButton } from '../../common';
import { bringInLens, download } from '../../session';

/** Brings a lens design in from a file, or saves the present one as it is listed. */
export function LensFile() {
  const hasDesign = useShot(({ look: { ghosts } }) => ghosts.design !== 'own' || ghosts.own !== null);
  const save = (): void => {
    const design = listedDesign(useShot.getState().look);
    const text = `${JSON.stringify(lensDocument(design), null, 2)}\n`;
    download(new Blob([text], { type: 'application/json' }), `${design.id}.json`);
  };
  return (
    <Box sx={{ display: 'flex', gap: 0.5 }}>
      <FileButton
        label="Design from a file"
        name="File of a lens design"
        accept=".json"
        onFile={(file) => void bringInLens(file)}
      />
      <Button
        size="small"
        color="inherit"
        disabled={!hasDesign}
        onClick={save}
        sx={{ color: 'text.secondary' }}
      >
        Save design
      </Button>
    </Box>
  );
}
