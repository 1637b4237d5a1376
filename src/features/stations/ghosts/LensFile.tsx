'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useRef } from 'react';
import { lensDocument } from '../../../core/optics/lens/design';
import { listedDesign } from '../../../core/stations/ghosts/lens';
import { useShot } from '../../../state/shot-store';
import { bringInLens, download } from '../../session';

/** Brings a lens design in from a file, or saves the present one as it is listed. */
export function LensFile() {
  const input = useRef<HTMLInputElement>(null);
  const hasDesign = useShot(({ look: { ghosts } }) => ghosts.design !== 'own' || ghosts.own !== null);
  const save = (): void => {
    const design = listedDesign(useShot.getState().look);
    const text = `${JSON.stringify(lensDocument(design), null, 2)}\n`;
    download(new Blob([text], { type: 'application/json' }), `${design.id}.json`);
  };
  return (
    <Box sx={{ display: 'flex', gap: 0.5 }}>
      <Button
        size="small"
        color="inherit"
        onClick={() => input.current?.click()}
        sx={{ color: 'text.secondary' }}
      >
        Design from a file
      </Button>
      <Button
        size="small"
        color="inherit"
        disabled={!hasDesign}
        onClick={save}
        sx={{ color: 'text.secondary' }}
      >
        Save design
      </Button>
      <input
        ref={input}
        type="file"
        hidden
        accept=".json"
        aria-label="File of a lens design"
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          event.target.value = '';
          if (file) void bringInLens(file);
        }}
      />
    </Box>
  );
}
