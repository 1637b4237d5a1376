'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useDesk } from '../../state/desk-store';
import { DEMOS, openDemo, reportError, useFileChooser, usePlates } from '../session';

/** What stands in the place of the picture: what is being opened, or what to do next. */
export function EmptyViewer() {
  const opening = usePlates((state) => state.opening);
  const phase = useDesk((state) => state.phase);
  const choose = useFileChooser();
  return (
    <Box
      sx={{
        position: 'absolute',
        inset: 0,
        display: 'flex',
        flexDirection: 'column',
        alignItems: 'center',
        justifyContent: 'center',
        gap: 2,
      }}
    >
      {opening || phase === 'opening' ? (
        <Typography role="status" color="text.secondary">
          {opening ? `opening ${opening} …` : 'opening …'}
        </Typography>
      ) : (
        <>
          <Typography>Drop a render here: one file with its passes, or a file for each pass.</Typography>
          <Box sx={{ display: 'flex', gap: 1 }}>
            <Button variant="contained" onClick={() => choose()}>
              Choose a file
            </Button>
            {DEMOS.map((demo) => (
              <Button
                key={demo.name}
                variant="outlined"
                onClick={() => void openDemo(demo).catch(reportError)}
              >
                Open the demo: {demo.name}
              </Button>
            ))}
          </Box>
        </>
      )}
    </Box>
  );
}
