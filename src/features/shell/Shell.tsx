'use client';
import Close from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import { closeSnackbar, enqueueSnackbar, SnackbarProvider } from 'notistack';
import { useEffect, useRef, useState } from 'react';
import { rememberedFolds, useDesk } from '../../state/desk-store';
import { endGesture, useShot } from '../../state/shot-store';
import { PanelBoundary } from '../common';
import { loadCharts } from '../controls';
import { Bench } from '../bench';
import { StationPanel } from '../stations';
import { PrintDialog } from '../print';
import { ReelPanel } from '../reel';
import { FileDrop, lookAfterOriginals, notify, setNotify, startSession, usePlates } from '../session';
import { Shelf } from '../shelf';
import { LooksView } from '../looks';
import { StripView } from '../strip';
import { Tour } from '../tour';
import { Viewer } from '../viewer';
import { ChoiceDialog } from './ChoiceDialog';
import { FindSetting } from './FindSetting';
import { Notice } from './Notice';
import { FoldedSide } from './FoldedSide';
import { KeysDialog } from './KeysDialog';
import { SeatDialog } from './SeatDialog';
import { SlimBench } from './SlimBench';
import { TopBar } from './TopBar';
import { useShortcuts } from './use-shortcuts';

const NOTICES = { error: Notice, warning: Notice, success: Notice };
const NOTE_MS = { success: 3000, warning: 9000, error: 12000 } as const;

/** The whole application: top line, bench, shelf, picture, panel. */
export function Shell() {
  const [dialog, setDialog] = useState<'print' | 'find' | 'help' | null>(null);
  const started = useRef(false);
  const alone = useDesk((state) => state.alone);
  const print = (): void => {
    const { activePlate } = useShot.getState();
    if (activePlate && usePlates.getState().cards[activePlate]) setDialog('print');
    else notify('there is no picture to print yet: bring a render in', 'warning');
  };
  useShortcuts({
    print,
    find: () => setDialog('find'),
    help: () => setDialog('help'),
  });
  useEffect(() => {
    if (started.current) return;
    started.current = true;
    setNotify((text, variant) => void enqueueSnackbar(text, { variant, autoHideDuration: NOTE_MS[variant] }));
    useDesk.getState().set({ folded: rememberedFolds() });
    void startSession();
    lookAfterOriginals();
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
  const hasPicture = useDesk((state) => state.arrivals > 0);
  useEffect(() => {
    // The server may be gone when the first chart is opened. One that asks for it then tries again.
    if (hasPicture) loadCharts().catch(() => undefined);
  }, [hasPicture]);
  const close = (): void => setDialog(null);
  return (
    <SnackbarProvider
      maxSnack={3}
      anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      Components={NOTICES}
      action={(key) => (
        <IconButton size="small" aria-label="Close the message" onClick={() => closeSnackbar(key)}>
          <Close sx={{ fontSize: 16 }} />
        </IconButton>
      )}
    >
      <FileDrop>
        <Box sx={{ height: '100%', display: 'flex', flexDirection: 'column' }}>
          {alone ? <SlimBench /> : <TopBar onPrint={print} />}
          {!alone && (
            <PanelBoundary name="The bench">
              <Bench />
            </PanelBoundary>
          )}
          <Box component="main" sx={{ flex: 1, minHeight: 0, display: 'flex' }}>
            {!alone && (
              <FoldedSide side="shelf" label="Shelf">
                <Shelf />
              </FoldedSide>
            )}
            <Box sx={{ flex: 1, minWidth: 0, display: 'flex', position: 'relative' }}>
              <PanelBoundary name="The picture">
                <Viewer />
              </PanelBoundary>
              <PanelBoundary name="The test strip">
                <StripView />
              </PanelBoundary>
              <PanelBoundary name="Whole looks">
                <LooksView />
              </PanelBoundary>
            </Box>
            {!alone && (
              <FoldedSide side="panel" label="Settings">
                <StationPanel />
              </FoldedSide>
            )}
          </Box>
          <PanelBoundary name="The reel">
            <ReelPanel />
          </PanelBoundary>
        </Box>
        <PrintDialog open={dialog === 'print'} onClose={close} />
        <FindSetting open={dialog === 'find'} onClose={close} />
        <KeysDialog open={dialog === 'help'} onClose={close} />
        <ChoiceDialog />
        <Tour />
        <SeatDialog />
      </FileDrop>
    </SnackbarProvider>
  );
}
