'use client';
import RuleOutlined from '@mui/icons-material/RuleOutlined';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import Popover from '@mui/material/Popover';
import Tooltip from '@mui/material/Tooltip';
import { useMemo, useState } from 'react';
import type { LampCores } from '../../core/bench/lamp-cores';
import { setSetting, STATION_LABELS } from '../../core/look/look';
import { applyRemedies, realityCheck, type Finding } from '../../core/look/reality';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { useLatest } from '../controls';
import { askBench, reportError, usePlates } from '../session';

/** Brings findings back within what real lenses do, as one step. */
async function bringBack(findings: readonly Finding[]): Promise<void> {
  try {
    let look = applyRemedies(useShot.getState().look, findings);
    const { activePlate, setLook } = useShot.getState();
    const id = activePlate ? usePlates.getState().cards[activePlate]?.id : undefined;
    for (const { remedy } of findings) {
      if (!('threshold' in remedy) || !id) continue;
      const input = { share: remedy.threshold, of: 'pixels' } as const;
      const threshold = await askBench({ name: 'feedThreshold', look, input, plate: id });
      look = setSetting(look, 'veil.feed.threshold', threshold);
    }
    setLook(look);
  } catch (error) {
    reportError(error);
  }
}

/** What lamps have lost, asked for while the list is open and the picture rests. */
function useLampCores(isOpen: boolean): LampCores | undefined {
  const activePlate = useShot((state) => state.activePlate);
  const plate = usePlates((state) => (activePlate ? state.cards[activePlate]?.id : undefined));
  const look = useShot((state) => state.look);
  const isResting = useDesk((state) => state.phase === 'final' && !state.dragging);
  const own = JSON.stringify([plate, look]);
  const key = isOpen && plate && isResting ? own : undefined;
  const cores = useLatest(key, async () => ({
    found: await askBench({ name: 'lampCoreSurvey', look: useShot.getState().look, input: {}, plate }),
    of: key,
  }));
  // Findings of another look are none of this one's.
  return cores?.of === own ? cores.found : undefined;
}

/** Tells how much of the look lies beyond what real lenses do, and opens the list of it. */
export function RealityCheck() {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const look = useShot((state) => state.look);
  const feed = useDesk((state) => state.feed);
  const cores = useLampCores(anchor !== null);
  const findings = useMemo(() => realityCheck(look, { feed, cores }), [look, feed, cores]);
  const count = findings.length;
  const says = count === 0 ? 'all as real lenses do' : `${count} beyond real lenses`;
  return (
    <>
      <Tooltip title={`Reality check: ${says}`}>
        <ButtonBase
          aria-label={`Reality check: ${says}`}
          aria-haspopup="dialog"
          onClick={(event) => setAnchor(event.currentTarget)}
          sx={{
            position: 'absolute',
            right: 8,
            top: 8,
            height: 24,
            minWidth: 40,
            px: 0.5,
            gap: 0.5,
            border: '1px solid',
            borderColor: 'divider',
            borderRadius: 0.5,
            fontFamily: 'var(--figures)',
            fontSize: 11,
            color: count === 0 ? 'success.main' : 'error.main',
          }}
        >
          <RuleOutlined sx={{ fontSize: 15 }} />
          {count > 0 && count}
        </ButtonBase>
      </Tooltip>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
        slotProps={{ paper: { role: 'dialog', 'aria-label': 'Reality check', sx: { width: 420, p: 1.5 } } }}
      >
        <Box sx={{ display: 'flex', alignItems: 'baseline', justifyContent: 'space-between', pb: 0.5 }}>
          <Box component="h2" sx={{ fontSize: 14, fontWeight: 600, m: 0 }}>
            Reality check
          </Box>
          {count > 1 && (
            <Button size="small" variant="outlined" color="inherit" onClick={() => void bringBack(findings)}>
              Bring all back
            </Button>
          )}
        </Box>
        {count === 0 && (
          <Box sx={{ color: 'success.main', py: 0.5 }}>
            Everything that has a say in the picture lies within what real lenses do.
          </Box>
        )}
        {findings.map((finding) => (
          <FindingRow key={finding.label} finding={finding} onLeave={() => setAnchor(null)} />
        ))}
      </Popover>
    </>
  );
}

function FindingRow({ finding, onLeave }: { finding: Finding; onLeave: () => void }) {
  const set = useDesk((state) => state.set);
  const { station, label, value, band, why, source, path } = finding;
  return (
    <Box
      component="section"
      aria-label={label}
      sx={{ borderTop: '1px solid', borderColor: 'divider', py: 0.75 }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
        <ButtonBase
          aria-label={`Show ${label}`}
          onClick={() => {
            set({ station, revealed: path });
            onLeave();
          }}
          sx={{ flex: 1, justifyContent: 'flex-start', textAlign: 'left', fontWeight: 600 }}
        >
          {STATION_LABELS[station]} · {label}
        </ButtonBase>
        <Button
          size="small"
          variant="outlined"
          color="inherit"
          aria-label={`Bring ${label} back`}
          onClick={() => void bringBack([finding])}
          sx={{ flex: 'none' }}
        >
          Bring back
        </Button>
      </Box>
      <Box sx={{ fontFamily: 'var(--figures)', fontSize: 11 }}>
        <Box component="span" sx={{ color: 'error.main' }}>
          {value}
        </Box>
        <Box component="span" sx={{ color: 'text.secondary' }}>
          {' '}
          · real lenses {band}
        </Box>
      </Box>
      <Box sx={{ pt: 0.25 }}>{why}</Box>
      <Box sx={{ fontSize: 11, color: 'text.secondary' }}>{source}</Box>
    </Box>
  );
}
