'use client';
import Box from '@mui/material/Box';
import Slider from '@mui/material/Slider';
import Tooltip from '@mui/material/Tooltip';
import type { Look } from '../../../core/look/look';
import { useShot } from '../../../state/shot-store';
import { SLIDER_DRAG, sliderSx } from '../../controls';

/** What bloom and spikes have in all is shared out anew: from all bloom, 0, to all spikes, 1. */
export function balanced(veil: Look['veil'], share: number): Look['veil'] {
  const all = veil.bloom.amount + veil.spikes.amount;
  return {
    ...veil,
    bloom: { ...veil.bloom, amount: Math.min(1, all * (1 - share)) },
    spikes: { ...veil.spikes, amount: Math.min(1, all * share) },
  };
}

/** One handle between bloom and spikes: their amounts together stay as they are. */
export function Balance() {
  const bloom = useShot((state) => state.look.veil.bloom.amount);
  const spikes = useShot((state) => state.look.veil.spikes.amount);
  const all = bloom + spikes;
  const share = all > 0 ? spikes / all : 0.5;
  const text =
    all > 0 ? `${Math.round((1 - share) * 100)} : ${Math.round(share * 100)}` : 'no light in either';
  return (
    <Tooltip title="Shares what bloom and spikes scatter in all between the two" placement="left">
      <Box
        component="section"
        aria-label="Balance"
        sx={{
          display: 'grid',
          gridTemplateColumns: '48px 1fr 48px',
          columnGap: 1,
          alignItems: 'center',
          borderTop: '1px solid',
          borderColor: 'divider',
          minHeight: 36,
        }}
      >
        <span>Bloom</span>
        <Slider
          size="small"
          aria-label="Balance of bloom and spikes"
          aria-valuetext={text}
          track={false}
          disabled={all === 0}
          min={0}
          max={1}
          step={0.01}
          value={share}
          valueLabelDisplay="auto"
          valueLabelFormat={() => text}
          {...SLIDER_DRAG}
          onChange={(_, value) => {
            const { look, setLook } = useShot.getState();
            setLook({ ...look, veil: balanced(look.veil, value) });
          }}
          sx={sliderSx()}
        />
        <Box component="span" sx={{ textAlign: 'right' }}>
          Spikes
        </Box>
      </Box>
    </Tooltip>
  );
}
