'use client';
import Box from '@mui/material/Box';
import type { BlurFacts } from '../../../core/stations/focus/blur-facts';
import { useDesk } from '../../../state/desk-store';
import { useShot } from '../../../state/shot-store';
import { useLatest } from '../../controls';
import { askBench, usePlates } from '../../session';

/** What of the picture blurs under the present look, asked for while no hand moves. */
export function useBlurFacts(): BlurFacts | undefined {
  const activePlate = useShot((state) => state.activePlate);
  const plate = usePlates((state) => (activePlate ? state.cards[activePlate]?.id : undefined));
  const dragging = useDesk((state) => state.dragging);
  const { camera, focus, elements } = useShot((state) => state.look);
  const { amount, limit, breathing, depth } = focus;
  const key = JSON.stringify([plate, camera, amount, limit, breathing, depth, elements]);
  return useLatest(plate && !dragging ? key : undefined, () =>
    askBench({ name: 'blurSurvey', look: useShot.getState().look, input: {}, plate }),
  );
}

/** How large the discs get, and what is wrong with them. */
export function BlurReport({ facts }: { facts: BlurFacts | undefined }) {
  const on = useShot((state) => state.look.focus.on);
  if (!facts) return null;
  return (
    <Box data-testid="blur-report" sx={{ pt: 0.5, fontSize: 11 }}>
      <Box sx={{ fontFamily: 'var(--figures)', color: 'text.secondary' }}>
        {on ? '' : 'switched on: '}
        {Number((facts.blurred * 100).toPrecision(3))} % blurs, discs up to {facts.largest.toFixed(1)} px
      </Box>
      {facts.warnings.map((warning) => (
        <Box key={warning} data-testid="blur-warning" sx={{ pt: 0.25, color: 'error.main' }}>
          {warning}
        </Box>
      ))}
    </Box>
  );
}

/** Near and far for a render of the depth in few bits. */
export function SuggestedRange({ facts }: { facts: BlurFacts | undefined }) {
  if (!facts?.subjects) return null;
  const { near, far } = facts.subjects;
  const metres = (value: number): string => `${Number(value.toPrecision(3))} m`;
  return (
    <Box data-testid="suggested-range" sx={{ pt: 0.5, fontSize: 11, color: 'text.secondary' }}>
      Subjects lie from {metres(near)} to {metres(far)}: near and far for a depth that is rendered anew
    </Box>
  );
}
