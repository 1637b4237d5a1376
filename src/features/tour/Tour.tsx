'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Paper from '@mui/material/Paper';
import Popper from '@mui/material/Popper';
import { useEffect, useState } from 'react';
import { useDesk } from '../../state/desk-store';
import { TOUR, type TourStep } from './steps';

const REMEMBERED = 'bokelux tour';

function remember(): void {
  try {
    localStorage.setItem(REMEMBERED, 'answered');
  } catch {
    // Then it is offered the next time as well.
  }
}

function isAnswered(): boolean {
  try {
    return localStorage.getItem(REMEMBERED) !== null;
  } catch {
    return true;
  }
}

/** Begins the tour at its first step. */
export const startTour = (): void => {
  remember();
  goTo(0);
};

const leave = (): void => useDesk.getState().set({ tour: null });

function goTo(step: number): void {
  const { station } = TOUR[step]!;
  useDesk.getState().set({
    ...{ tour: step, strip: null, looks: false, alone: false },
    ...(station && { station, folded: { ...useDesk.getState().folded, panel: false } }),
  });
}

/** The step of the tour that is on, beside what it is about. The application goes on as ever under it. */
export function Tour() {
  const tour = useDesk((state) => state.tour);
  const step = tour === null ? undefined : TOUR[tour];
  const anchor = useAnchor(step);
  if (tour === null || !step || !anchor) return null;
  const isLast = tour === TOUR.length - 1;
  return (
    <Popper
      open
      anchorEl={anchor}
      placement={step.placement}
      modifiers={[{ name: 'offset', options: { offset: [0, 10] } }]}
      sx={{ zIndex: 'modal' }}
    >
      <Paper
        role="region"
        aria-label={`Tour: ${step.title}`}
        elevation={8}
        onKeyDown={(event) => {
          if (event.key !== 'Escape') return;
          event.stopPropagation();
          leave();
        }}
        sx={{ width: 320, p: 1.5, border: '1px solid', borderColor: 'primary.main', fontSize: 12 }}
      >
        <Box sx={{ display: 'flex', gap: 1, pb: 0.5 }}>
          <Box component="h2" sx={{ m: 0, flex: 1, fontSize: 13, fontWeight: 600 }}>
            {step.title}
          </Box>
          <Box sx={{ fontFamily: 'var(--figures)', color: 'text.secondary' }}>
            {tour + 1} / {TOUR.length}
          </Box>
        </Box>
        <Box sx={{ pb: 0.75 }}>{step.does}</Box>
        <Box sx={{ pb: 1, color: 'text.secondary' }}>{step.why}</Box>
        <Box sx={{ display: 'flex', gap: 1 }}>
          <Button size="small" color="inherit" onClick={leave}>
            Leave the tour
          </Button>
          <Box sx={{ flex: 1 }} />
          <Button size="small" color="inherit" disabled={tour === 0} onClick={() => goTo(tour - 1)}>
            Back
          </Button>
          <Button size="small" variant="contained" onClick={() => (isLast ? leave() : goTo(tour + 1))}>
            {isLast ? 'Done' : 'Next'}
          </Button>
        </Box>
      </Paper>
    </Popper>
  );
}

/** What a step is about on the screen, once it is there. */
function useAnchor(step: TourStep | undefined): Element | null {
  const [anchor, setAnchor] = useState<Element | null>(null);
  const selector = step?.anchor;
  useEffect(() => {
    if (!selector) return;
    // The panel of another station is drawn after this.
    const timer = setTimeout(() => setAnchor(document.querySelector(selector) ?? document.body), 0);
    return () => clearTimeout(timer);
  }, [selector]);
  return step ? anchor : null;
}

/** Offers the tour, until it is answered once. */
export function TourOffer() {
  const [isOffered, setIsOffered] = useState(() => !isAnswered());
  const tour = useDesk((state) => state.tour);
  const hasPicture = useDesk((state) => state.arrivals > 0);
  if (!isOffered || !hasPicture || tour !== null) return null;
  const answer = (then?: () => void): void => {
    remember();
    setIsOffered(false);
    then?.();
  };
  return (
    <Box role="note" sx={{ fontSize: 11, color: 'text.secondary', py: 1 }}>
      New here? Ten steps from the render to the print.
      <Box>
        <Button size="small" color="primary" onClick={() => answer(startTour)} sx={{ fontSize: 11, px: 0.5 }}>
          Show me
        </Button>
        <Button size="small" color="inherit" onClick={() => answer()} sx={{ fontSize: 11, px: 0.5 }}>
          No, thanks
        </Button>
      </Box>
    </Box>
  );
}
