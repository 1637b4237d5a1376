'use client';
import Box from '@mui/material/Box';
import { enqueueSnackbar, SnackbarProvider } from 'notistack';
import { useEffect, useRef, useState } from 'react';
import { useDesk } from '../../state/desk-store';
import { endGesture } from '../../state/shot-store';
import { Bench } from '../bench';
import { StationPanel } from '../stations';
import { PrintDialog } from '../print';
import { FileDrop, setNotify, startSession } from '../session';
import { Shelf } from '../shelf';
import { Viewer } from '../viewer';
import { FindSetting } from './FindSetting';
import { Notice } from './Notice';
import { KeysDialog } from './KeysDialog';
import { TopBar } from './TopBar';
import { useShortcuts } from './use-shortcuts';

const NOTICES = { error: Notice, warning: Notice, success: Notice };
const NOTE_MS = { success: 3000, warning: 9000, error: 12000 } as const;

/** The whole application: top line, bench, shelf, picture, panel. */
export function Shell() {
  const [dialog, setDialog] = useState<'print' | 'find' | 'help' | null>(null);
  const started = useRef(false);
  useShortcuts({
    print: () => setDialog('print'),
    find: () => setDialog('find'),
    help: () => setDialog('help'),
  });
  useEffect(() => {
    if (started.current) return;
    started.current = true;
    setNotify((text, variant) => void enqueueSnackbar(text, { variant, autoHideDuration: NOTE_MS[variant] }));
    void startSession();
  }, []);
  useEffect(() => {
    // A drag may end outside the slider that it began on.
    const release = (): void => {
      endGesture();
      if (useDesk.getState().dragging) useDesk.getState().set({ dragging: false });
    };
    window.addEventListener('pointerup', release);
    window.addEventListener('pointercancel', release);
    return () => {
      window.removeEventListener('pointerup', release);
      window.removeEventListener('pointercancel', release);
    };
  }, []);
  const close = (): void => setDialog(null);
  return (
    <SnackbarProvider
      maxSnack={3}
      anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      Components={NOTICES}
    >
      <FileDrop>
        <Box sx={{ height: '100%', display: 'flex', flexDirection: 'column' }}>
          <TopBar onPrint={() => setDialog('print')} />
          <Bench />
          <Box component="main" sx={{ flex: 1, minHeight: 0, display: 'flex' }}>
            <Shelf />
            <Viewer />
            <StationPanel />
          </Box>
        </Box>
        <PrintDialog open={dialog === 'print'} onClose={close} />
        <FindSetting open={dialog === 'find'} onClose={close} />
        <KeysDialog open={dialog === 'help'} onClose={close} />
      </FileDrop>
    </SnackbarProvider>
  );
}
